import { readFileSync } from "node:fs";
import { expect, test } from "vitest";
import type { Setting } from "../api/types";
import { lookOf } from "./look";

// The same vectors as the service's own test.
const cases = JSON.parse(readFileSync(new URL("../../../internal/setting/testdata/looks.json", import.meta.url), "utf8"));

test.each(cases)("$type $key", (c: { type: string; key: string; unit?: string; value: unknown; property?: string; attribute?: string; written: string }) => {
  const setting = { key: c.key, type: c.type, unit: c.unit, look: true } as Setting;
  expect(lookOf([setting], { [c.key]: c.value })).toEqual({
    properties: c.property ? { [c.property]: c.written } : {},
    attributes: c.attribute ? { [c.attribute]: c.written } : {},
  });
});

test("what is no look, or has no value, writes nothing", () => {
  const plain = { key: "a", type: "number", look: false } as Setting;
  const text = { key: "b", type: "text", look: true } as Setting;
  const unset = { key: "c", type: "colour", look: true } as Setting;
  expect(lookOf([plain, text, unset], { a: 1, b: "x", c: null })).toEqual({ properties: {}, attributes: {} });
});
