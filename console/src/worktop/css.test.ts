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

test("a change of one rule is told apart from more", () => {
  const base = readSheet(".a { top: 0 }\n.b { top: 0 }");
  expect(onlyRule(base, readSheet(".a { top: 0 }\n.b { top: 1px }"))).toBe(1);
  expect(onlyRule(base, readSheet(".a { top: 2px }\n.b { top: 1px }"))).toBe(-1);
  expect(onlyRule(base, readSheet(".a { top: 0 }\n.b { top: 0 }\n.c {}"))).toBe(-1);
  expect(onlyRule(base, readSheet(".a { top: 0 }\n\n.b { top: 0 }"))).toBe(-1);
});
