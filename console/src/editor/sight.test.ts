import { beforeEach, describe, expect, it, vi } from "vitest";
import { Refused } from "../api/refused";
import type { Fault, Previewed, PreviewCase, Setting } from "../api/types";
import type { Draft } from "./draft.svelte";
import type { In } from "./stage";

const service = vi.hoisted(() => ({ asked: [] as { settings: Record<string, unknown>; conditions: Record<string, unknown> }[], answers: [] as (() => Promise<unknown>)[], cases: [] as unknown[] }));

vi.mock("../api/client", () => {
  return {
    api: {
      preview: (_: string, ask: (typeof service.asked)[0]) => {
        service.asked.push(ask);
        return (service.answers.shift() ?? (async () => ({ built: 7, parts: [] })))();
      },
      previewCases: async () => ({ cases: service.cases }),
      savePreviewCase: async (_: string, name: string, conditions: unknown) => void service.cases.push({ name, conditions }),
      deletePreviewCase: async (_: string, name: string) => void (service.cases = service.cases.filter((c) => (c as PreviewCase).name != name)),
    },
  };
});

const { Sight } = await import("./sight.svelte");

function sight() {
  const wrong = new Set<string>();
  const draft = {
    sound: { heading: "Tide" } as Record<string, unknown>,
    about: { sources: { heading: { from: [{ source: "src-a" }] } } },
    get: () => undefined,
    faulty: (path: string) => wrong.has(path),
    refused: (faults: Fault[]) => {
      for (const f of faults) {
        wrong.add(f.field!);
        delete draft.sound[f.field!];
      }
    },
  };
  const it = new Sight("key", draft as unknown as Draft, () => [] as Setting[]);
  const drawn: { in: In; page: string; again: boolean }[] = [];
  it.stage.draw = (_p, host, within = {}, again = false) => void drawn.push({ in: within, page: host!.page, again });
  return { it, draft, drawn };
}

describe("what is seen", () => {
  beforeEach(() => Object.assign(service, { asked: [], answers: [], cases: [] }));

  it("asks the service for what the service makes, and the frame for the rest", async () => {
    const { it, drawn } = sight();
    it.see({ page: "dark", still: true, language: "ar", visitor: "returning", moment: "2027-03-01T10:00[UTC]", frozen: true });
    await vi.waitFor(() => expect(drawn.length).toBe(1));
    expect(service.asked).toEqual([{ settings: { heading: "Tide" }, sources: { heading: { from: [{ source: "src-a" }] } }, conditions: { language: "ar", moment: "2027-03-01T10:00[UTC]" } }]);
    expect(drawn[0]).toEqual({ in: { at: 7, frozen: true, zone: "UTC", still: true, visitor: "returning" }, page: "dark", again: false });
    it.see({ width: 360 }); // only the frame is narrower
    expect(service.asked.length).toBe(1);
    it.see({ page: undefined, still: false, language: "", visitor: undefined, moment: undefined, frozen: undefined, width: 0 });
    expect(it.conditions).toEqual({});
  });

  it("shows items in place of a list's own until it is told otherwise", async () => {
    const { it, drawn } = sight();
    it.try({ key: "heading", values: [{ id: "a" }] });
    it.try(null);
    await vi.waitFor(() => expect(drawn.length).toBe(1)); // the first answer comes too late
    expect(service.asked).toMatchObject([{ settings: { heading: [{ id: "a" }] }, sources: {} }, { settings: { heading: "Tide" }, sources: { heading: {} } }]);
  });

  it("draws the last that was asked for, whichever comes first", async () => {
    const { it, drawn } = sight();
    let first: (p: Partial<Previewed>) => void = () => {};
    service.answers = [() => new Promise((r) => (first = r)), async () => ({ built: 2, parts: [] })];
    const slow = it.draw();
    await it.draw();
    first({ built: 1, parts: [] });
    await slow;
    expect([drawn.length, it.shown!.built]).toEqual([1, 2]);
  });

  it("draws without what is wrong, and says what it cannot draw", async () => {
    const { it, draft, drawn } = sight();
    draft.sound.accent = "bluish";
    const refuse = (what: string, hint: string, faults: Fault[] = []) => () => Promise.reject(new Refused(422, "settings-faulty", what, hint, faults));
    service.answers = [refuse("Some settings are wrong.", "Fix them.", [{ field: "accent", what: "No colour.", fix: "" } as Fault])];
    await it.draw();
    expect([service.asked.length, service.asked[1].settings, drawn.length, it.trouble]).toEqual([2, { heading: "Tide" }, 1, ""]);
    service.answers = [refuse("The service does not answer.", "It is tried again.")];
    await it.draw();
    expect([drawn.length, it.trouble]).toEqual([1, "The service does not answer. It is tried again."]);
    await it.draw();
    expect(it.trouble).toBe("");
  });

  it("is as wide as a small screen while values for those are edited, and then as before", () => {
    const { it } = sight();
    it.small(true);
    it.small(true);
    expect(it.conditions.width).toBe(360);
    it.small(false);
    expect(it.conditions).toEqual({});
    it.see({ width: 768 });
    it.small(true);
    it.small(false);
    expect(it.conditions.width).toBe(768);
    it.see({ width: 320 });
    it.small(true);
    expect(it.conditions.width).toBe(320); // narrow enough
    it.see({ width: 768 });
    it.small(true);
    it.see({ width: 500 }); // chosen meanwhile: nobody puts it back
    it.small(false);
    expect(it.conditions.width).toBe(500);
  });

  it("keeps cases and takes one in their place", async () => {
    const { it, drawn } = sight();
    it.see({ visitor: "returning", width: 360 });
    await it.keep("Second visit");
    expect(it.cases).toEqual([{ name: "Second visit", conditions: { visitor: "returning", width: 360 } }]);
    it.see({ visitor: undefined, width: undefined, page: "photo" });
    it.sheet = true;
    it.apply(it.cases[0].conditions);
    expect([it.conditions, it.sheet]).toEqual([{ visitor: "returning", width: 360 }, false]);
    await vi.waitFor(() => expect(drawn.at(-1)!.in).toEqual({ visitor: "returning" }));
    it.sheet = true;
    await it.drop("Second visit");
    expect([it.cases, it.sheet]).toEqual([[], false]);
  });
});
