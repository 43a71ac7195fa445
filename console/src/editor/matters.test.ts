import { expect, test } from "vitest";
// The same vectors as the service's own test.
import vectors from "../../../internal/setting/testdata/when.json";
import type { Setting } from "../api/types";
import { matters } from "./matters";

interface Vector {
  name: string;
  when?: Record<string, unknown[]>;
  values: Record<string, unknown>;
  matters: boolean;
}

test.each(vectors as Vector[])("$name", (c) => {
  expect(matters({ when: c.when } as Setting, (key) => c.values[key])).toBe(c.matters);
});
