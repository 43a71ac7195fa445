import { describe, expect, it } from "vitest";
import { both, passage } from "./both";

const base = "one\ntwo\nthree\nfour\nfive\n";

describe("two people's changes of one text", () => {
  for (const [what, mine, theirs, want] of [
    ["far apart", "ONE\ntwo\nthree\nfour\nfive\n", "one\ntwo\nthree\nfour\nFIVE!\n", "ONE\ntwo\nthree\nfour\nFIVE!\n"],
    ["the other way round", "one\ntwo\nthree\nfour\nFIVE!\n", "ONE\ntwo\nthree\nfour\nfive\n", "ONE\ntwo\nthree\nfour\nFIVE!\n"],
    ["a line more and a line fewer", "zero\none\ntwo\nthree\nfour\nfive\n", "one\ntwo\nthree\nfive\n", "zero\none\ntwo\nthree\nfive\n"],
    ["the same line", "one\ntwo!\nthree\nfour\nfive\n", "one\ntwo?\nthree\nfour\nfive\n", null],
    ["the same line, at other places", "one\nTwo\nthree\nfour\nfive\n", "one\ntwo.\nthree\nfour\nfive\n", null],
    ["neighbouring lines", "one\nTWO\nthree\nfour\nfive\n", "one\ntwo\nTHREE\nfour\nfive\n", null],
    ["one within the other's", "A\ntwo\nthree\nfour\nE\n", "one\ntwo\n3\nfour\nfive\n", null],
    ["everything is another's", "mine\n", "theirs\n", null],
  ] as const) {
    it(what, () => expect(both(base, mine, theirs)).toBe(want));
  }

  it("makes nothing of a base that is not known", () => expect(both("", base, base + "six\n")).toBe(null));

  it("shows the lines that differ", () => {
    expect(passage("one\ntwo\nthree\nFOUR\nfive\n", base, 1)).toEqual({
      line: 3,
      lines: [
        { text: "three", changed: false },
        { text: "FOUR", changed: true },
        { text: "five", changed: false },
      ],
    });
    expect(passage("one\ntwo\nfour\nfive\n", base, 1).lines.map((l) => l.text)).toContain("two");
  });
});
