import { expect, it } from "vitest";
import type { Setting } from "../api/types";
import { finds } from "./find";

const setting = (key: string, type: string, label: string, more: Partial<Setting> = {}) => ({ key, type, label: { en: label }, control: "", look: false, order: 0, required: false, ...more }) as Setting;
const settings = [
  setting("ink", "colour", "Text"),
  setting("surface", "colour", "Background", { help: { en: "Behind everything" } }),
  setting("heading", "text", "Heading"),
  setting("layout", "choice", "Layout", { options: [{ value: "dials", label: { en: "Dials" } }] as Setting["options"] }),
  setting("cards", "list", "Cards", { fields: [setting("picture", "image", "Front"), setting("words", "text", "Caption")] }),
];

it.each([
  ["color", ["ink", "surface"]], // by what it is, in either spelling
  ["Colour  back", ["surface"]], // each word, in any order
  ["everything", ["surface"]],
  ["dial", ["layout"]],
  ["caption", ["cards"]],
  ["photo", ["cards"]],
  ["heading", ["heading"]],
  ["numbers text", ["ink"]], // its group too
  ["colour dials", []],
])("%s", (text, keys) => {
  expect(settings.filter((s) => finds(s, s.key == "ink" ? "Numbers" : "Content", text)).map((s) => s.key)).toEqual(keys);
});
