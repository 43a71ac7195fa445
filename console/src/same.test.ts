import { expect, it } from "vitest";
import { same } from "./same";

it("values are the same whatever the order of their members", () => {
  expect(same({ a: 1, b: [{ c: 2, d: undefined }] }, { b: [{ c: 2 }], a: 1 })).toBe(true);
  for (const other of [{ a: 1 }, { a: 1, b: [] }, { a: 1, b: { 0: { c: 2 } } }, [1], null, "a"]) expect(same({ a: 1, b: [{ c: 2 }] }, other)).toBe(false);
});
