import { expect, test } from "vitest";
import { contrast } from "./contrast";

test.each([
  ["#000000", "#ffffff", 21],
  ["#777777", "#ffffff", 4.48],
  ["#ffffff", "#0b6b63", 6.37],
  ["#00000080", "#ffffff", 3.98],
  ["inherit", "#ffffff", 0],
])("%s on %s", (ink, on, want) => expect(contrast(ink, on)).toBeCloseTo(want, 1));
