import { describe, expect, it } from "vitest";
import { History } from "./undo.svelte";

function at() {
  let now = 0;
  const history = new History(() => now);
  const type = (path: string, before: unknown, after: unknown, label = path) => history.add(label, [{ path, before, after }]);
  return { history, type, wait: (ms: number) => (now += ms) };
}

describe("steps", () => {
  it("joins what is typed into one field in one go, and nothing else", () => {
    const { history, type, wait } = at();
    type("heading", undefined, "T");
    wait(200);
    type("heading", "T", "Ti");
    wait(200);
    type("accent", "#000", "#111");
    type("heading", "Ti", "Tid");
    wait(2000);
    type("heading", "Tid", "Tide");
    const steps = [];
    for (let step = history.back(); step; step = history.back()) steps.push(step.changes.map((c) => [c.path, c.before, c.after]));
    expect(steps).toEqual([[["heading", "Tid", "Tide"]], [["heading", "Ti", "Tid"]], [["accent", "#000", "#111"]], [["heading", undefined, "Ti"]]]);
  });

  it("keeps what stands alone alone, and what changes many things whole", () => {
    const { history, type } = at();
    type("heading", "a", "b");
    history.add("Another starter", [
      { path: "heading", before: "b", after: "c" },
      { path: "accent", before: "#000", after: "#111" },
    ]);
    type("heading", "c", "d");
    history.add("Back to the default", [{ path: "heading", before: "d", after: undefined }], true);
    type("heading", undefined, "e");
    expect(history.next).toBe("heading");
    expect([history.back(), history.back(), history.back(), history.back(), history.back(), history.back()].map((s) => s?.changes.length)).toEqual([1, 1, 1, 2, 1, undefined]);
  });

  it("goes back and forth, says what comes next, and forgets what was undone once something else is done", () => {
    const { history, type, wait } = at();
    type("heading", "a", "b", "Heading");
    wait(5000);
    type("accent", "#000", "#111", "Accent");
    expect([history.next, history.nextAgain]).toEqual(["Accent", ""]);
    expect(history.back()!.label).toBe("Accent");
    expect([history.next, history.nextAgain]).toEqual(["Heading", "Accent"]);
    expect(history.forth()!.changes[0].after).toBe("#111");
    type("accent", "#111", "#222", "Accent"); // at once, but what was done again is a step of its own
    expect(history.back()!.changes[0].before).toBe("#111");
    history.back();
    type("gap", 1, 2, "Gap");
    expect(history.nextAgain).toBe("");
    expect(history.forth()).toBeUndefined();
    expect(history.next).toBe("Gap");
  });

  it("keeps the last five hundred", () => {
    const { history, type, wait } = at();
    for (let i = 0; i < 600; i++) {
      type("gap", i, i + 1);
      wait(3000);
    }
    let n = 0;
    let last;
    for (let step = history.back(); step; step = history.back(), n++) last = step;
    expect(n).toBe(500);
    expect(last!.changes[0].before).toBe(100);
  });
});
