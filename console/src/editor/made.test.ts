import { describe, expect, it } from "vitest";
import type { Element as Part, Setting } from "../api/types";
import { affects, makers } from "./made";

const part = (parent: number, ...settings: string[]) => ({ name: "p", start: 0, open: 0, end: 0, parent, settings }) as Part;
const setting = (key: string, type: string, look = false) => ({ key, type, look, label: { en: key } }) as unknown as Setting;
//  0 box (accent as an attribute of its own) > 1 heading, 2 list > 3 card > 4 title
const parts = [part(-1, "layout"), part(0, "heading"), part(0, "cards"), part(2, "cards"), part(3, "cards", "titles")];
const settings = [setting("layout", "choice", true), setting("heading", "text"), { ...setting("cards", "list"), fields: [] }, setting("titles", "switch"), setting("accent", "colour", true), setting("titleFace", "font", true)];
const step = (mark: number | null, nth = 0, of = 1, ...names: string[]) => ({ mark, nth, of, names });

describe("a part that is pointed at", () => {
  it("names what is nearest first, and the item of a list", () => {
    const made = [step(4, 2, 3, "--title-face"), step(3, 2, 3), step(2), step(0, 0, 1, "--accent", "data-layout"), step(null)];
    expect(makers(made, parts, settings, () => 3)).toEqual([{ key: "cards", item: 2 }, { key: "titles" }, { key: "titleFace" }, { key: "layout" }, { key: "accent" }]);
  });
  it("names no item where there are more or fewer parts than items", () => {
    expect(makers([step(4, 5, 6)], parts, settings, () => 3)[0]).toEqual({ key: "cards" });
  });
  it("leaves out the content of what is around it", () => {
    expect(makers([step(1), step(0)], parts, settings, () => 3)).toEqual([{ key: "heading" }]);
  });
});

describe("a setting that has the keyboard", () => {
  it("outlines what is within, a list as a whole, and one item of it", () => {
    expect(affects(settings[1], parts)).toEqual({ marks: [1], names: [] });
    expect(affects(settings[2], parts)).toEqual({ marks: [2], names: [] });
    expect(affects(settings[2], parts, { nth: 1, of: 3 })).toEqual({ marks: [2, 3, 4], names: [], item: { nth: 1, of: 3 } });
    expect(affects(settings[5], parts)).toEqual({ marks: [], names: ["--title-face", "data-title-face"] });
  });
});
