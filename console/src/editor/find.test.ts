import { expect, it } from "vitest";
import type { Setting } from "../api/types";
import { matches } from "../ui/search";
import { extras } from "./extras";
import { finds, findsOwn } from "./find";

const setting = (key: string, type: string, label: string, more: Partial<Setting> = {}) => ({ key, type, label: { en: label }, control: "", look: false, order: 0, required: false, ...more }) as Setting;
const settings = [
  setting("ink", "colour", "Text"),
  setting("surface", "colour", "Background", { help: { en: "Behind everything" } }),
  setting("heading", "text", "Heading", { search: { de: "Tempo" } }),
  setting("size", "length", "Extent"),
  setting("layout", "choice", "Layout", { options: [{ value: "dials", label: { en: "Dials" } }] as Setting["options"] }),
  setting("cards", "list", "Cards", { fields: [setting("picture", "image", "Front"), setting("words", "text", "Caption")] }),
];

const words = (en: string, de = "") => ({ called: { en, de, pl: "", ar: "" } });
const types = { colour: words("colour color dark light", "Farbe dunkel hell"), length: words("size width height", "Größe Breite Höhe"), image: words("picture photo"), list: words("sort order hide") };

it.each([
  ["color", ["ink", "surface"]], // by what it is, in either spelling
  ["Colour  back", ["surface"]], // each word, in any order
  ["everything", ["surface"]],
  ["dial", ["layout"]],
  ["caption", ["cards"]],
  ["photo", ["cards"]],
  ["heading", ["heading"]],
  ["numbers text", ["ink"]], // its group too
  ["dark", ["ink", "surface"]], // what people call the type
  ["Farbe", ["ink", "surface"]], // in their own language
  ["GROSSE hohe", ["size"]], // whatever the accents
  ["hide sort", ["cards"]],
  ["tempo", ["heading"]], // words of its own
  ["colour dials", []],
])("%s", (text, keys) => {
  expect(settings.filter((s) => finds(types, s, { en: s.key == "ink" ? "Numbers" : "Content" }, text)).map((s) => s.key)).toEqual(keys);
});

it.each([
  ["language", ["pocket/language"]],
  ["home page", ["pocket/cues"]],
  ["Startseite", ["pocket/cues"]],
  ["template", ["pocket/starter"]],
  ["zebra", []],
])("the console's own fields: %s", (text, paths) => {
  const found = (["pocket/title", "pocket/language", "pocket/starter"] as const).filter((p) => findsOwn(p, text));
  const more = Object.entries(extras).filter(([, e]) => matches(text, [e.search]));
  expect([...found, ...more.map(([key]) => "pocket/" + key)]).toEqual(paths);
});
