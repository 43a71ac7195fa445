import { expect, it } from "vitest";
import { inWords, together } from "./together";

it("takes what one of two has changed from that one, and names what both have", () => {
  const base = { name: "Kelp", zone: "UTC", sites: ["a.example"], language: "en", old: 1 };
  const mine = { name: "Kelp & Kiln", zone: "UTC", sites: ["a.example", "b.example"], language: "de", fresh: 2 };
  const theirs = { name: "Kiln", zone: "Europe/Oslo", sites: ["a.example", "b.example"], language: "en", old: 1 };
  const { merged, taken, contested } = together(base, mine, theirs);
  expect(merged).toEqual({ name: "Kelp & Kiln", zone: "Europe/Oslo", sites: ["a.example", "b.example"], language: "de", fresh: 2 });
  expect([taken, contested]).toEqual([["zone"], ["name"]]);
  expect(inWords(taken, contested, (key) => key.toUpperCase())).toEqual({
    what: "Somebody else saved first, so your changes are not saved yet. Added from them: ZONE.",
    hint: "Both of you changed NAME. Your version is shown here. To keep it, save again.",
  });
});

it("keeps what somebody has taken away away", () => {
  expect(together({ a: 1, b: 1 }, { b: 1 }, { a: 1 })).toEqual({ merged: {}, taken: ["b"], contested: [] });
});
