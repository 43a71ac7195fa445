import type { Setting } from "../api/types";
import { matches } from "../ui/search";
import { called, own } from "./called";

type Texts = Parameters<typeof matches>[1];

const texts = (s: Setting): Texts => [s.label, s.help, s.search, s.key, called[s.type], ...(s.options ?? []).map((o) => o.label), ...(s.fields ?? []).flatMap(texts)];

// Whether each word of a search is in the label of a setting or its group, in its help, its
// options, or its fields.
export const finds = (setting: Setting, group: Record<string, string>, search: string): boolean => matches(search, [...texts(setting), group]);

// Which of the fields of every pocket a search finds.
export const findsOwn = (path: keyof typeof own, search: string): boolean => matches(search, [own[path]]);
