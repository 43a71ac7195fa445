import { expect, test } from "vitest";
import { onlyRule, readSheet, standsOn } from "./css";

test("each rule has its marker, and stands where it stands", () => {
  const source = `/* .no { } */
.a, .b:hover { color: var(--ink); }
@media (min-width: 9px) {
  @supports (gap: 1px) { .c::before { content: "}{"; & .d { gap: 1px; } } }
}
@keyframes k { from { top: 0 } }
.e {}`;
  const { text, rules, tops } = readSheet(source);
  expect(rules.map((r) => [source.slice(r.from, r.to).split("{")[0].trim(), r.conditions, r.declared])).toEqual([
    [".a, .b:hover", [], ["color"]],
    [".c::before", ["@media (min-width: 9px)", "@supports (gap: 1px)"], ["content"]],
    ["& .d", ["@media (min-width: 9px)", "@supports (gap: 1px)"], ["gap"]],
    [".e", [], []],
  ]);
  expect(text.replace(/--glass-rule-\d+:1;/g, "")).toBe(source);
  expect([...text.matchAll(/\{--glass-rule-(\d+):1;/g)].map((m) => m[1])).toEqual(["0", "1", "2", "3"]);
  expect(tops.map((t) => t.slice(0, 6))).toEqual([".a, .b", "@media", "@keyfr", ".e {--"]);
  expect(tops.every((t) => text.includes(t))).toBe(true);
  expect(standsOn(".x[data-layout] { color: var( --main-ink, red) }")).toEqual(["layout", "main-ink"]);
});

test("what has been read before is found at its new place, with its new number", () => {
  const base = ".a { top: 0 }\n@media print { .b { left: 0 } .c {} }\n.a { top: 0 }";
  readSheet(base);
  const source = ".n { gap: 0 }\n" + base;
  const { text, rules, tops } = readSheet(source);
  expect(rules.map((r) => source.slice(r.from, r.to))).toEqual([".n { gap: 0 }", ".a { top: 0 }", ".b { left: 0 }", ".c {}", ".a { top: 0 }"]);
  expect(rules.map((r) => r.conditions.length)).toEqual([0, 0, 1, 1, 0]);
  expect([...text.matchAll(/\{--glass-rule-(\d+):1;/g)].map((m) => m[1])).toEqual(["0", "1", "2", "3", "4"]);
  expect(text.replace(/--glass-rule-\d+:1;/g, "")).toBe(source);
  expect(tops[3]).toContain("--glass-rule-4");
});

test("a sheet that is typed comes to the same as one that is read at once", () => {
  const pieces = [".a { top: 0 }", "x", "}", "{", "/*", "*/", ";", "\"", "\n", "@media print {", "color: red;", ".b:hover", "(", ","];
  let source = "/* one */\n.a { top: 0; left: 0 }\n@media print { .b { gap: 0 } .c { gap: 0 } }\n@keyframes k { from { top: 0 } }\n.d > .e { color: red }\n";
  let seed = 7;
  const random = (below: number) => (seed = (seed * 48271) % 2147483647) % below;
  for (let i = 0; i < 400; i++) {
    const from = random(source.length + 1);
    const next = source.slice(0, from) + (random(3) ? pieces[random(pieces.length)] : "") + source.slice(Math.min(source.length, from + random(6)));
    readSheet(source);
    const typed = readSheet(next);
    readSheet("");
    expect(typed, next).toEqual(readSheet(next));
    if (next.length < 400 && random(4)) source = next;
  }
});

test("a change of one rule is told apart from more", () => {
  const base = readSheet(".a { top: 0 }\n.b { top: 0 }");
  expect(onlyRule(base, readSheet(".a { top: 0 }\n.b { top: 1px }"))).toBe(1);
  expect(onlyRule(base, readSheet(".a { top: 2px }\n.b { top: 1px }"))).toBe(-1);
  expect(onlyRule(base, readSheet(".a { top: 0 }\n.b { top: 0 }\n.c {}"))).toBe(-1);
  expect(onlyRule(base, readSheet(".a { top: 0 }\n\n.b { top: 0 }"))).toBe(-1);
});
