import { describe, expect, it } from "vitest";
import { difference, Folder, type Piece } from "./folder.svelte";

// Numbers that look drawn, the same ones each time.
function drawn(seed: number) {
  return (below: number) => {
    seed = (seed * 1664525 + 1013904223) >>> 0;
    return Math.floor((seed / 2 ** 32) * below);
  };
}

const files = () => ({ "view.html": "<p>one</p>\n<p>two</p>\n", "style.css": ".a { color: red; }\n", "mount.ts": "" });
const load = (texts: Record<string, string> = files()) => {
  const folder = new Folder();
  folder.load(Object.entries(texts).map(([path, text]) => ({ path, text, digest: `digest of ${text}` })));
  return folder;
};
const texts = (folder: Folder) => Object.fromEntries(folder.paths.map((p) => [p, folder.text(p)]));

describe("a folder that is being written", () => {
  it("is as it was after undoing all, and as it became after doing all again", () => {
    for (let seed = 1; seed <= 60; seed++) {
      const draw = drawn(seed);
      const folder = load();
      const states = [texts(folder)];
      for (let i = 0; i < 40; i++) {
        const path = ["view.html", "style.css", "mount.ts", "new.ts"][draw(4)];
        const text = folder.text(path);
        const from = draw(text.length + 1);
        switch (draw(4)) {
          case 0:
            if (folder.has(path)) folder.type(path, from, Math.min(text.length, from + draw(3)), "xyz\n".slice(0, draw(5)));
            break;
          case 1:
            folder.change(`step ${i}`, { [path]: text.slice(0, from) + "{{}}" + text.slice(from), "settings.json": `{"n": ${i}}` });
            break;
          case 2:
            folder.change(`removing ${path}`, { [path]: null });
            break;
          case 3:
            for (let n = draw(4); n > 0; n--) folder.undo();
        }
      }
      const last = texts(folder);
      const steps = folder.past.length;
      while (folder.undo());
      expect(texts(folder), `seed ${seed}`).toEqual(states[0]);
      expect(folder.unsaved, `seed ${seed}: nothing differs from what is saved`).toEqual([]);
      for (let i = 0; i < steps; i++) expect(folder.redo()).not.toBe("");
      expect(texts(folder), `seed ${seed}`).toEqual(last);
    }
  });

  it("keeps pieces on what they were put on, whatever is typed elsewhere", () => {
    for (let seed = 1; seed <= 60; seed++) {
      const draw = drawn(seed);
      const words = Array.from({ length: 12 }, (_, i) => `<${"word".repeat(1 + draw(3))}${i}>`);
      const folder = load({ "view.html": words.join("\n") });
      const pieces: Piece[] = [];
      for (const word of words) {
        const from = folder.text("view.html").indexOf(word);
        pieces.push(folder.keep({ path: "view.html", from, to: from + word.length }));
      }
      for (let i = 0; i < 30; i++) {
        // Between two words, or in the middle of one: then that one is the piece's text.
        const n = draw(words.length);
        const { from, to } = pieces[n];
        if (draw(2)) {
          const held = folder.text("view.html").slice(from, to);
          const begin = from + held.length - held.trimStart().length; // what is typed at its edge belongs to it
          const at = begin + 1 + draw(words[n].length - 1);
          words[n] = words[n].slice(0, at - begin) + "+" + words[n].slice(at - begin);
          folder.type("view.html", at, at, "+");
        } else if (n > 0) {
          const gap = pieces[n - 1].to;
          folder.change("all of it", { "view.html": folder.text("view.html").slice(0, gap) + "\n\n" + folder.text("view.html").slice(from) });
        }
        pieces.forEach((p, k) => expect(folder.text("view.html").slice(p.from, p.to).trim(), `seed ${seed}, step ${i}, word ${k}`).toBe(words[k]));
      }
    }
  });

  it("takes keystrokes together as one step, and nothing else", () => {
    const folder = load();
    folder.type("mount.ts", 0, 0, "a");
    folder.type("mount.ts", 1, 1, "b");
    folder.type("style.css", 0, 0, "c");
    folder.change("making a setting", { "mount.ts": "abd" });
    expect(folder.past.map((s) => s.what)).toEqual(["typing in mount.ts", "typing in style.css", "making a setting"]);
    folder.undo();
    folder.undo();
    expect(folder.undo()).toBe("typing in mount.ts");
    expect(folder.text("mount.ts")).toBe("");
    folder.redo();
    folder.type("mount.ts", 2, 2, "!");
    expect(folder.future, "what is typed ends what could be done again").toEqual([]);
  });

  it("takes in what others save, but where something is changed here", () => {
    const folder = load();
    const told: string[][] = [];
    folder.onchange = (paths) => told.push(paths);
    folder.type("style.css", 0, 0, "/* mine */");
    told.length = 0;
    const news = folder.refresh([
      { path: "view.html", text: "<p>theirs</p>\n", digest: "v2" },
      { path: "style.css", text: ".theirs {}\n", digest: "s2" },
      { path: "grow.ts", text: "export {};\n", digest: "g1" },
    ]);
    expect(news.sort()).toEqual(["grow.ts", "mount.ts", "view.html"]);
    expect(told.length).toBe(1);
    expect(texts(folder)).toEqual({ "view.html": "<p>theirs</p>\n", "style.css": "/* mine */.a { color: red; }\n", "grow.ts": "export {};\n" });
    expect(folder.unsaved).toEqual([{ path: "style.css", text: "/* mine */.a { color: red; }\n", was: "s2" }]);
  });

  it("says what the service does not have", () => {
    const folder = load();
    folder.change("one and the other", { "new.ts": "", "mount.ts": null, "view.html": files()["view.html"] });
    expect(folder.unsaved).toEqual([
      { path: "mount.ts", removed: true, was: "digest of " },
      { path: "new.ts", text: "", was: "" },
    ]);
    folder.undo();
    expect(folder.unsaved).toEqual([]);
  });
});

it("the least change leads from one text to the other", () => {
  const draw = drawn(7);
  for (let i = 0; i < 500; i++) {
    const text = () => Array.from({ length: draw(12) }, () => "ab\n"[draw(3)]).join("");
    const [before, after] = [text(), text()];
    const { from, to, insert } = difference(before, after);
    expect(before.slice(0, from) + insert + before.slice(to)).toBe(after);
    expect(from <= to).toBe(true);
    if (before == after) expect([to - from, insert]).toEqual([0, ""]);
  }
});
