import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Draft as Saved, Fault, Setting } from "../api/types";

// A service with one draft, as the real one keeps it.
const service = vi.hoisted(() => ({ settings: {} as Record<string, any>, title: "Tide", revision: 1, by: "nobody", silent: false, unread: 0, asked: 0, reads: 0, held: undefined as Promise<void> | undefined }));
const saved = () => ({ revision: service.revision, settings: structuredClone(service.settings), title: service.title, language: "en", starter: "", changedBy: service.by, changedAt: "" }) as unknown as Saved;

vi.mock("../session/session.svelte", () => ({ session: { expire: () => {} } }));
vi.mock("../api/client", async () => {
  const { Refused } = await import("../api/refused");
  const change = (revision: number, make: () => void) => {
    service.asked++;
    if (service.silent) throw new Refused(0, "unreachable", "The service does not answer.", "");
    if (revision != service.revision) throw new Refused(412, "draft-changed", "", "");
    make();
    service.revision++;
    service.by = "me";
    return saved();
  };
  return {
    api: {
      draft: async () => {
        if (service.silent || service.unread-- > 0) throw new Refused(0, "unreachable", "", "");
        const now = saved();
        if (++service.reads == 2) await service.held; // an answer that is late
        return now;
      },
      changeDraft: async (_: string, revision: number, values: Record<string, any>) =>
        change(revision, () => {
          const wrong = Object.entries(values).filter(([, v]) => v == "wrong");
          if (wrong.length) throw new Refused(422, "settings-faulty", "", "", wrong.map(([field]) => ({ field, what: "It is wrong.", fix: "" }) as Fault));
          for (const [key, value] of Object.entries(values)) {
            if (key == "small") {
              const small = { ...(service.settings.small ?? {}) };
              for (const [k, v] of Object.entries(value)) v === null ? delete small[k] : (small[k] = v);
              service.settings.small = small;
            } else if (value === null) delete service.settings[key];
            else service.settings[key] = value;
          }
        }),
      changePocket: async (_: string, revision: number, about: { title?: string }) => change(revision, () => (service.title = about.title ?? service.title)),
    },
  };
});

const { Draft } = await import("./draft.svelte");

const settings = ["heading", "accent", "cards", "gap"].map((key) => ({ key, label: { en: key }, maxLength: key == "heading" ? 40 : 0 }) as unknown as Setting);

function editor() {
  const draft = new Draft(
    "tide",
    (path) => path,
    (path) => settings.find((s) => s.key == path.replace("small/", "")),
  );
  const told: string[] = [];
  draft.notice = (what) => told.push(what);
  draft.start(saved());
  return { draft, told };
}
// Somebody else saves.
function theirs(values: Record<string, unknown>) {
  Object.assign(service.settings, values);
  service.revision++;
  service.by = "ida";
}

const kept = new Map<string, string>();
beforeEach(() => {
  vi.useFakeTimers();
  kept.clear();
  vi.stubGlobal("localStorage", { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v), removeItem: (k: string) => kept.delete(k) });
  Object.assign(service, { settings: { heading: "Tide", accent: "#102030", cards: [{ id: "a" }] }, title: "Tide", revision: 1, by: "nobody", silent: false, unread: 0, asked: 0, reads: 0, held: undefined });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});
const settle = () => vi.advanceTimersByTimeAsync(600);

describe("what is typed", () => {
  it("is saved soon, in one request, and only what changed", async () => {
    const { draft } = editor();
    for (const text of ["T", "Ti", "Tidal"]) draft.set("heading", text);
    draft.set("small/gap", 4);
    expect(draft.state).toBe("waiting");
    await settle();
    expect([draft.state, service.asked, service.settings.heading, service.settings.small]).toEqual(["saved", 1, "Tidal", { gap: 4 }]);
    draft.set("accent", null);
    draft.set("pocket/title", "High water");
    await settle();
    expect([service.settings.accent, service.title, draft.state]).toEqual([undefined, "High water", "saved"]);
  });

  it("is kept in the browser while nobody answers, and saved when somebody does", async () => {
    const { draft } = editor();
    service.silent = true;
    draft.set("heading", "Kept");
    await settle();
    expect(draft.state).toBe("away");
    draft.set("accent", "#ffffff"); // in mid-typing
    await settle();
    const again = editor(); // the tab is closed, and another one opened
    expect(again.draft.get("heading")).toBe("Kept");
    expect(again.told[0]).toContain("Restored your unsaved changes: heading, accent");
    let back = 0;
    draft.onback = () => back++;
    service.silent = false;
    await vi.advanceTimersByTimeAsync(3000);
    expect([draft.state, service.settings.heading, service.settings.accent, back]).toEqual(["saved", "Kept", "#ffffff", 1]);
    expect(kept.size).toBe(0);
  });

  it("that is refused stays, marked, and holds up nothing else", async () => {
    const { draft } = editor();
    draft.set("accent", "wrong");
    draft.set("heading", "Right");
    await settle();
    expect([draft.state, service.settings.heading, service.settings.accent, draft.get("accent")]).toEqual(["faulty", "Right", "#102030", "wrong"]);
    expect(draft.faults.accent.what).toBe("It is wrong.");
    expect(draft.sound.accent).toBe("#102030");
    draft.set("accent", "#aabbcc");
    await settle();
    expect([draft.state, service.settings.accent]).toEqual(["saved", "#aabbcc"]);
  });

  it("of five megabytes is neither cut off nor sent", async () => {
    const { draft } = editor();
    const much = "x".repeat(5_000_000);
    draft.set("heading", much);
    await settle();
    expect([service.asked, draft.state, (draft.get("heading") as string).length]).toEqual([0, "faulty", 5_000_000]);
    expect(draft.faults.heading.what).toBe("5,000,000 characters; the limit is 40.");
  });
});

describe("two people", () => {
  it("are brought together by setting", async () => {
    const { draft, told } = editor();
    draft.set("heading", "Mine");
    theirs({ accent: "#ffffff", small: { gap: 2 } });
    await settle();
    expect(service.settings).toMatchObject({ heading: "Mine", accent: "#ffffff", small: { gap: 2 } });
    expect(draft.get("accent")).toBe("#ffffff");
    expect(told).toEqual(["ida also changed this draft. Added from them: accent, small/gap."]);
  });

  it("who change the same setting are asked, and nothing is overwritten before", async () => {
    const { draft } = editor();
    draft.set("heading", "Mine");
    draft.set("gap", 3);
    theirs({ heading: "Theirs" });
    await settle();
    expect(draft.collisions).toEqual([{ path: "heading", theirs: "Theirs", by: "ida" }]);
    expect([draft.state, service.settings.heading, service.settings.gap, draft.get("heading")]).toEqual(["collided", "Theirs", 3, "Mine"]);
    draft.decide("heading", true);
    await settle();
    expect([draft.state, service.settings.heading]).toEqual(["saved", "Mine"]);
  });

  it("can take the other's, and undo that", async () => {
    const { draft } = editor();
    draft.set("heading", "Mine");
    theirs({ heading: "Theirs" });
    await settle();
    draft.decide("heading", false);
    await settle();
    expect([service.settings.heading, draft.state]).toEqual(["Theirs", "saved"]);
    draft.undo();
    await settle();
    expect(service.settings.heading).toBe("Mine");
  });

  it("who come to the same are not asked", async () => {
    const { draft } = editor();
    draft.set("heading", "Same");
    theirs({ heading: "Same" });
    await settle();
    expect([draft.collisions.length, draft.state]).toEqual([0, "saved"]);
  });
});

describe("two people, and a network that drops", () => {
  it("come together as soon as what the other has saved can be read", async () => {
    const { draft } = editor();
    draft.set("heading", "Mine");
    theirs({ accent: "#ffffff" });
    service.unread = 1;
    await settle();
    expect([draft.state, service.settings.heading]).toEqual(["away", "Tide"]);
    await vi.advanceTimersByTimeAsync(3000);
    expect([draft.state, service.settings.heading, draft.get("accent")]).toEqual(["saved", "Mine", "#ffffff"]);
  });

  it("get nothing older for a late answer", async () => {
    const { draft } = editor();
    let arrive = () => {};
    service.held = new Promise((resolve) => (arrive = resolve));
    theirs({ accent: "#ffffff" });
    const looking = draft.refresh();
    await vi.advanceTimersByTimeAsync(10);
    draft.set("heading", "Mine"); // while the answer is under way
    const saving = draft.save();
    await vi.advanceTimersByTimeAsync(10);
    arrive();
    await Promise.all([looking, saving]);
    expect([draft.get("heading"), draft.get("accent"), service.settings.heading, draft.revision]).toEqual(["Mine", "#ffffff", "Mine", service.revision]);
  });
});

describe("undo", () => {
  it("takes typing in one field back at once, and goes through everything", async () => {
    const { draft } = editor();
    const before = JSON.stringify(draft.values);
    for (const text of ["A", "AB", "ABC"]) draft.set("heading", text);
    draft.set("small/gap", 1);
    draft.change("the starter Dusk", { accent: "#000000", cards: [], "pocket/title": "Dusk" }, true);
    draft.undo();
    expect([draft.get("accent"), draft.get("cards"), draft.about.title]).toEqual(["#102030", [{ id: "a" }], "Tide"]);
    draft.undo();
    draft.undo();
    expect(JSON.stringify(draft.values)).toBe(before.replace("}]}", '}],"small":{}}'));
    expect(draft.history.next).toBe("");
    for (let i = 0; i < 3; i++) draft.redo();
    expect([draft.get("heading"), draft.get("accent"), draft.about.title]).toEqual(["ABC", "#000000", "Dusk"]);
    await settle();
    expect([service.settings.heading, service.title]).toEqual(["ABC", "Dusk"]);
  });

  it("in one of two tabs leaves what the other has changed since", async () => {
    const one = editor();
    const other = editor();
    one.draft.change("both", { heading: "One", gap: 5 });
    await settle();
    await other.draft.refresh();
    other.draft.set("heading", "Other");
    await settle();
    await one.draft.refresh();
    one.draft.undo();
    await settle();
    expect([service.settings.heading, service.settings.gap]).toEqual(["Other", undefined]);
    expect(one.told.at(-1)).toBe("heading was changed elsewhere and is not affected.");
  });
});
