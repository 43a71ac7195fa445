// The font stacks, which need no upload, by their names in settings.
import table from "../../../internal/setting/css.json";

export const fontStacks = table.font.names as Record<string, string>;
const words: Record<string, string> = { plain: "Plain", book: "Book", engraved: "Engraved", narrow: "Narrow", round: "Round", typed: "Typed" };
export const fontLabels: Record<string, string> = Object.fromEntries(Object.keys(fontStacks).map((name) => [name, words[name] ?? name]));
