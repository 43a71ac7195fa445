// From a part of the preview to its settings, and back.
import type { Element as Part, Setting } from "../api/types";
import { kebab } from "./look";
import type { Made, Show } from "./stage";

// A setting behind the selected part. item is the index of the list's item.
export interface Maker {
  key: string;
  item?: number;
}

// Whether the value of a widget's setting is a list of items.
export const isList = (setting: Setting) => !!setting.fields;

const nameOf = (setting: Setting) => [`--${kebab(setting.key)}`, `data-${kebab(setting.key)}`];

// The settings behind the selected part, the nearest first. lengths are those of the lists.
export function makers(made: Made[], parts: Part[], settings: Setting[], length: (key: string) => number): Maker[] {
  const list: Maker[] = [];
  const add = (key: string, item?: number) => {
    const known = list.find((m) => m.key == key);
    if (!known) list.push(item === undefined ? { key } : { key, item });
    else if (known.item === undefined && item !== undefined) known.item = item;
  };
  let nearest = true; // outer elements only matter for the box
  for (const step of made) {
    const here = step.mark == null ? [] : (parts[step.mark]?.settings ?? []).flatMap((key) => settings.find((s) => s.key == key) ?? []);
    for (const setting of here) {
      // A part that is repeated for each item identifies the item.
      const each = isList(setting) && step.of > 0 && step.of == length(setting.key);
      if (nearest || (each && list.some((m) => m.key == setting.key))) add(setting.key, each ? step.nth : undefined);
    }
    if (here.length) nearest = false;
    for (const setting of settings) if (setting.look && nameOf(setting).some((name) => step.names.includes(name))) add(setting.key);
  }
  return list;
}

// The parts to outline for a setting, or for one item of a list with this many.
export function affects(setting: Setting, parts: Part[], item?: { nth: number; of: number }): Show {
  const marks = parts.flatMap((part, i) => (part.settings?.includes(setting.key) ? [i] : []));
  if (item) return { marks, names: [], item };
  // A list is outlined as a whole; for anything else, the inner outlines are enough.
  const list = isList(setting);
  const some = marks.filter((m) => !marks.some((other) => (list ? within(m, other, parts) : within(other, m, parts))));
  return { marks: some, names: setting.look ? nameOf(setting) : [] };
}

function within(inner: number, outer: number, parts: Part[]) {
  for (let at = parts[inner].parent; at >= 0; at = parts[at].parent) if (at == outer) return true;
  return false;
}
