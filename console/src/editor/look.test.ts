import { expect, test } from "vitest";
// The same vectors as the service's own test.
import vectors from "../../../internal/setting/testdata/looks.json";
import type { Setting } from "../api/types";
import { lookOf } from "./look";

interface Vector {
  type: string;
  key: string;
  unit?: string;
  value: unknown;
  property?: string;
  attribute?: string;
  written: string;
}

test.each(vectors as Vector[])("$type $key", (c) => {
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
