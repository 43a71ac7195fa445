import { describe, expect, it, test } from "vitest";
import { Script, statementAt } from "./script";

// A source map that leads from each place of code to the same place of a file.
function same(code: string, source: string) {
  const mappings = code.split("\n").map((line, l) => Array.from({ length: line.length + 1 }, (_, c) => [c, 0, l, c]));
  return JSON.stringify({ version: 3, sources: [source], names: [], mappings });
}

// How often the guard is called when code runs, which gives what it returns.
function run(code: string, most = 1000) {
  let turns = 0;
  const turn = () => {
    if (++turns > most) throw new Error("stopped");
  };
  const out = new Function("$glassTurn", new Script(code, 0, "").text)(turn);
  return [out, turns];
}

describe("loops", () => {
  test.each([
    ["let n = 0; for (let i = 0; i < 5; i++) n += i; return n", 10, 5],
    ["let n = 0; for (const i of [1, 2, 3]) { n += i } return n", 6, 3],
    ["let n = 0; for (const k in {a: 1, b: 2}) n++; return n", 2, 2],
    ["let n = 0; while (n < 4) n++; return n", 4, 4],
    ["let n = 0; do n++; while (n < 4); return n", 4, 4],
    ["let n = 0; do { n++ } while (n < 4)\nreturn n", 4, 4],
    ["let n = 0; for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) n++; return n", 9, 12],
    ["let n = 0; for (let i = 0; i < 3; i++) if (i == 1) continue; else n++; return n", 2, 3],
    ["let n = 0; outer: for (;;) { while (true) { if (++n > 5) break outer } } return n", 6, 7],
    ["const f = (n) => { while (n < 9) n += 2; return n }; return f(0)", 10, 5],
    ["const text = 'for (;;) {}'; /* while (1) {} */ return text.length", 11, 0],
    ["return `${(() => { let n = 0; while (n < 2) n++; return n })()}`", "2", 2],
  ])("%s", (code, out, turns) => expect(run(code)).toEqual([out, turns]));

  test.each(["for (;;);", "while (true) {}", "do {} while (true)", "for (let i = 0; i < 3; i--) i = i", "const f = () => { for (;;) ; }; f()"])("%s is stopped", (code) => expect(() => run(code)).toThrow("stopped"));

  it("leaves alone what cannot be read", () => {
    expect(new Script("while (", 0, "").text).toBe("while (");
    expect(new Script("", 3, "").text).toBe("");
  });
});

describe("where a place of what runs was written", () => {
  const code = ["a1();", "for (const b2 of []) b3(); b4();", "while (c5) { c6(); for (;;) c7(); } c8();", "do d9(); while (d10);"].join("\n");
  const head = "// made by us\n// and this\n";

  it("is found through the guards before it", () => {
    const script = new Script(head + code, 2, same(code, "widget:tide/mount.ts"));
    const lines = script.text.split("\n");
    for (const name of code.match(/[a-d]\d+/g)!) {
      const line = lines.findIndex((l) => l.includes(name));
      const wanted = code.split("\n").findIndex((l) => l.includes(name));
      // The frame puts a line of its own before it.
      expect(script.origin([line + 2, lines[line].indexOf(name) + 1]), name).toEqual({ path: "tide/mount.ts", line: wanted + 1, column: code.split("\n")[wanted].indexOf(name) + 1 });
    }
  });

  it("is nobody's where the author wrote nothing", () => {
    expect(new Script(code, 0, "").origin([2, 1])).toBe(null);
    expect(new Script(code, 0, same(code, "(entry)")).origin([2, 1])).toBe(null);
    for (const line of [1, 2, 3]) expect(new Script(head + code, 2, same(code, "widget:mount.ts")).origin([line, 1]), `line ${line} is ours`).toBe(null);
    expect(new Script(code, 0, same(code, "widget:mount.ts")).origin([99, 1])).toBe(null);
  });
});

test.each([
  ["const a = find('.x')!;\nconst b = 2;", "find", "const a = find('.x')!;"],
  ["if (a) {\n  b(\n    c,\n    d,\n  );\n}", "c,", "  b(\n    c,\n    d,\n  );"],
  ["export default function mount() {\n  one();\n  two(() => {\n    three();\n  });\n  4;\n  5;\n  6;\n}", "two", "  two(() => {\n    three();\n  });"],
  ["x".repeat(10), "xxx", "x".repeat(10)],
])("the statement around a place: %s", (source, at, want) => {
  const { from, to } = statementAt(source, "mount.ts", source.indexOf(at));
  expect(source.slice(from, to)).toBe(want);
});
