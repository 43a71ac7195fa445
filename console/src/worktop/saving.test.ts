import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { DraftFile, Fault, WidgetDraft } from "../api/types";

// A service with one draft, as the real one keeps it: all of a change, or nothing.
const service = vi.hoisted(() => ({ files: {} as Record<string, { text: string; by: string }>, revision: 1, by: "nobody", silent: false, asked: 0, late: 0 }));
const digest = (text: string) => `digest of ${text}`;
const draft = () =>
  ({ widget: "tide", revision: service.revision, release: 0, createdAt: "", changedAt: "", changedBy: service.by, files: Object.entries(service.files).map(([path, f]) => ({ path, text: f.text, digest: digest(f.text), changedBy: f.by })) }) as WidgetDraft;

vi.mock("../session/session.svelte", () => ({ session: { expire: () => {} } }));
vi.mock("../api/client", async () => {
  const { Refused } = await import("../api/refused");
  const answer = <T>(give: () => T) => {
    service.asked++;
    if (service.silent) throw new Refused(0, "unreachable", "The service does not answer.", "Is it running?");
    return give();
  };
  return {
    api: {
      widgetDraft: async () => answer(draft),
      changeWidgetDraft: async (by: string, files: DraftFile[]) => {
        const given = answer(() => {
          const collisions = files.filter((f) => {
            const now = service.files[f.path];
            return (now ? digest(now.text) : "") != f.was && !(now && !f.removed && now.text == f.text);
          });
          if (collisions.length) throw new Refused(412, "draft-changed", "", "", collisions.map((f) => ({ path: f.path }) as Fault));
          for (const f of files) {
            if (f.removed) delete service.files[f.path];
            else service.files[f.path] = { text: f.text!, by };
          }
          service.revision++;
          service.by = by;
          return draft();
        });
        if (service.late) await new Promise((r) => setTimeout(r, service.late));
        if (service.silent) throw new Refused(0, "unreachable", "The service does not answer.", "Is it running?");
        return given;
      },
    },
  };
});

const { Folder } = await import("./folder.svelte");
const { Saving } = await import("./saving.svelte");

// Somebody at a worktop; the name stands for the widget's, by which the service knows who asks.
function author(name: string) {
  const folder = new Folder();
  folder.load(draft().files!);
  const told: string[] = [];
  const saving = new Saving(name, folder, (what) => told.push(what));
  saving.draft = draft();
  folder.onchange = () => saving.changed();
  return { folder, saving, told, put: (path: string, text: string | null) => folder.change("typing", { [path]: text }) };
}
const passes = (milliseconds: number) => vi.advanceTimersByTimeAsync(milliseconds);

const kept = new Map<string, string>();
beforeEach(() => {
  vi.useFakeTimers();
  kept.clear();
  vi.stubGlobal("localStorage", { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => kept.set(k, v), removeItem: (k: string) => kept.delete(k) });
  Object.assign(service, { files: { "style.css": { text: "one\ntwo\nthree\nfour\nfive\n", by: "nobody" }, "view.html": { text: "<p>\n", by: "nobody" } }, revision: 1, by: "nobody", silent: false, asked: 0, late: 0 });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe("saving", () => {
  it("waits for a pause, and keeps each keystroke in the browser meanwhile", async () => {
    const a = author("a");
    a.put("view.html", "<b>\n");
    await passes(500);
    expect([a.saving.state, service.asked]).toEqual(["waiting", 0]);
    expect(kept.get("glass-pocket-worktop:a")).toContain("<b>");
    a.put("view.html", "<b>!\n");
    await passes(500);
    expect(service.asked, "the pause begins anew").toBe(0);
    await passes(100);
    expect([a.saving.state, service.files["view.html"].text, service.asked]).toEqual(["saved", "<b>!\n", 1]);
    expect(kept.size).toBe(0);
    await a.saving.save();
    expect(service.asked, "nothing is left to save").toBe(1);
  });

  it("saves what is typed while it is saving", async () => {
    const a = author("a");
    a.put("view.html", "1");
    const first = a.saving.save();
    a.put("view.html", "12");
    await first;
    await passes(600);
    expect([service.files["view.html"].text, a.saving.state, a.folder.unsaved]).toEqual(["12", "saved", []]);
  });

  it("takes back what is under way, for whoever asks meanwhile too", async () => {
    const a = author("a");
    service.late = 5000; // it has it, and nobody knows yet
    a.put("view.html", "<b>\n");
    a.put("new.ts", "1");
    await passes(600);
    a.folder.undo();
    a.folder.undo();
    await passes(1000);
    const back = [
      { path: "view.html", text: "<p>\n", was: digest("<p>\n") },
      { path: "new.ts", removed: true, was: "" },
    ];
    expect(a.folder.unsaved, "what a check or a preview is made of").toEqual(back);
    expect(kept.get("glass-pocket-worktop:a"), "a page that closes now").toContain("<p>");
    service.late = 0;
    await passes(5000);
    expect([service.files["view.html"].text, Object.keys(service.files), a.saving.state, a.folder.unsaved]).toEqual(["<p>\n", ["style.css", "view.html"], "saved", []]);
  });

  it("takes back what arrived without an answer", async () => {
    const a = author("a");
    service.late = 1000;
    a.put("view.html", "<b>\n");
    await passes(600);
    service.silent = true; // the answer is lost on its way
    a.folder.undo();
    await passes(1000);
    expect([service.files["view.html"].text, a.saving.state]).toEqual(["<b>\n", "failed"]);
    Object.assign(service, { silent: false, late: 0 });
    await passes(4000);
    expect([service.files["view.html"].text, a.saving.state, a.saving.collisions, a.told]).toEqual(["<p>\n", "saved", [], []]);
  });

  it("adds files and takes them away", async () => {
    const a = author("a");
    a.put("new.ts", "");
    a.put("view.html", null);
    await passes(600);
    expect(Object.keys(service.files).sort()).toEqual(["new.ts", "style.css"]);
    a.folder.undo();
    await passes(600);
    expect(service.files["view.html"].text).toBe("<p>\n");
    expect(a.saving.state).toBe("saved");
  });

  it("is tried again when nobody answers, and says when somebody does", async () => {
    const a = author("a");
    let back = 0;
    a.saving.onback = () => back++;
    service.silent = true;
    a.put("view.html", "<b>\n");
    await passes(600);
    expect([a.saving.state, a.saving.trouble, back]).toEqual(["failed", "The service does not answer. Is it running?", 0]);
    await passes(3000);
    expect(service.asked).toBe(2);
    service.silent = false;
    await passes(3000);
    expect([a.saving.state, a.saving.trouble, back, service.files["view.html"].text]).toEqual(["saved", "", 1, "<b>\n"]);
    await passes(10_000);
    expect(service.asked).toBe(3);
  });

  it("is not tried for ever by a page that has been left", async () => {
    const a = author("a");
    service.silent = true;
    a.put("view.html", "<b>\n");
    a.saving.close();
    await passes(20_000);
    expect(service.asked).toBeLessThanOrEqual(2);
    expect(kept.get("glass-pocket-worktop:a"), "it comes back with the next").toContain("<b>");
  });
});

describe("two authors", () => {
  it("do not notice one another in other files, but for a word", async () => {
    const [a, b] = [author("a"), author("b")];
    a.put("style.css", "mine\n");
    b.put("view.html", "theirs\n");
    await passes(600);
    expect(b.told).toEqual(["a also edits this widget. Added from them: style.css."]);
    expect(b.folder.text("style.css")).toBe("mine\n");
    expect([a.saving.collisions, b.saving.collisions]).toEqual([[], []]);
  });

  it("keep both what they have changed in other lines", async () => {
    const [a, b] = [author("a"), author("b")];
    a.put("style.css", "ONE\ntwo\nthree\nfour\nfive\n");
    await a.saving.save();
    b.put("style.css", "one\ntwo\nthree\nfour\nFIVE\n");
    await passes(1500);
    expect(service.files["style.css"].text).toBe("ONE\ntwo\nthree\nfour\nFIVE\n");
    expect([b.saving.collisions, b.saving.state]).toEqual([[], "saved"]);
    expect(b.told).toEqual(["a also edits this widget. Added from them: style.css."]);
    expect(b.folder.undo()).toBe("merging changes of a in style.css");
  });

  it.each([
    [true, "one\nTHEIRS\nthree\nfour\nfive\n", "one\nMINE\nthree\nfour\nfive\n"],
    [false, "one\nMINE\nthree\nfour\nfive\n", "one\nTHEIRS\nthree\nfour\nfive\n"],
  ])("choose where they have changed the same line (mine stays: %s)", async (mine, undone, want) => {
    const [a, b] = [author("a"), author("b")];
    a.put("style.css", "one\nTHEIRS\nthree\nfour\nfive\n");
    await a.saving.save();
    b.put("style.css", "one\nMINE\nthree\nfour\nfive\n");
    await passes(600);
    expect(b.saving.collisions).toEqual([{ path: "style.css", base: "one\ntwo\nthree\nfour\nfive\n", theirs: "one\nTHEIRS\nthree\nfour\nfive\n", by: "a" }]);
    expect(service.files["style.css"].by, "nothing is overwritten").toBe("a");
    await passes(20_000);
    expect(service.files["style.css"].by, "nor later by itself").toBe("a");
    b.saving.settle("style.css", mine);
    await passes(600);
    expect([service.files["style.css"].text, b.saving.state, b.saving.collisions]).toEqual([want, "saved", []]);
    b.folder.undo();
    expect(b.folder.text("style.css")).toBe(undone);
  });

  it("are asked when one has removed what the other changes", async () => {
    const [a, b] = [author("a"), author("b")];
    a.put("view.html", null);
    await a.saving.save();
    b.put("view.html", "<b>\n");
    await passes(600);
    expect(b.saving.collisions).toMatchObject([{ path: "view.html", theirs: null }]);
    b.saving.settle("view.html", false);
    await passes(600);
    expect(b.folder.has("view.html")).toBe(false);
    expect([Object.keys(service.files), b.saving.state]).toEqual([["style.css"], "saved"]);
  });
});

describe("changes from before the page closed", () => {
  it("comes back and is saved", async () => {
    const before = author("a");
    before.put("view.html", "<b>\n");
    await passes(0);
    const a = author("a");
    a.saving.recover();
    await passes(600);
    expect(a.told).toEqual(["Restored your unsaved changes: view.html."]);
    expect(service.files["view.html"].text).toBe("<b>\n");
  });

  it("overwrites nothing that somebody else has saved since", async () => {
    const before = author("a");
    service.silent = true;
    before.put("style.css", "one\ntwo\nthree\nfour\nMINE\n");
    before.saving.close();
    await passes(600);
    service.silent = false;
    const b = author("b");
    b.put("style.css", "THEIRS\ntwo\nthree\nfour\nfive\n");
    await b.saving.save();
    const a = author("a");
    a.saving.recover();
    await passes(2000);
    expect(service.files["style.css"].text).toBe("THEIRS\ntwo\nthree\nfour\nfive\n");
    expect(a.saving.collisions).toMatchObject([{ path: "style.css", base: "", by: "b" }]);
    expect(a.folder.text("style.css")).toBe("one\ntwo\nthree\nfour\nMINE\n");
  });
});
