import { expect, test } from "vitest";
import type { Profile } from "../api/types";
import { ownOf, stepOf } from "./own";

const base = {
  format: 1, name: "parts", language: "en", title: "Pages of parts", summary: "Parts.", signs: ["A list."], pages: { are: "web" }, pitfalls: [],
  places: [
    { name: "code", title: "A part for code", stands: "content", takes: { as: "markup" }, editor: { shows: "box", says: "A box." }, steps: { new: ["Add a part.", "Paste this: {snippet}"], page: ["Open it.", "Paste this: {snippet}"] } },
    { name: "foot", title: "The foot", stands: "end", takes: { as: "markup" }, editor: { shows: "nothing", says: "Nothing." }, steps: { site: ["Paste this: {snippet}"] } },
  ],
} as unknown as Profile;

test("says only what is otherwise", () => {
  const edited = structuredClone(base);
  expect(ownOf(base, edited)).toEqual({ format: 1, name: "parts", extends: "parts", language: "en" });
  edited.title = "Harbour pages";
  edited.places[0].steps.new = [{ say: "Choose “Code”.", image: "code.png", alt: "The list" }, { say: "Paste this: {snippet}" }];
  expect(ownOf(base, edited)).toEqual({
    format: 1, name: "parts", extends: "parts", language: "en", title: "Harbour pages",
    places: [{ name: "code", steps: { new: [{ say: "Choose “Code”.", image: "code.png", alt: "The list" }, "Paste this: {snippet}"] } }],
  });
});

test("a step is words or an object", () => {
  expect(stepOf("Save.")).toEqual({ say: "Save." });
  expect(stepOf({ say: "Save.", image: "a.png", alt: "A" })).toEqual({ say: "Save.", image: "a.png", alt: "A" });
});
