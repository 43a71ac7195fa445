import type { Setting } from "../api/types";
import { matches } from "../ui/search";
import { own } from "./called";
import type { Words } from "./fields/types";

type Texts = Parameters<typeof matches>[1];
type Called = Record<string, { called?: Words }>;

const texts = (s: Setting, types: Called): Texts => [s.label, s.help, s.search, s.key, types[s.type]?.called, ...(s.options ?? []).map((o) => o.label), ...(s.fields ?? []).flatMap((f) => texts(f, types))];

// Whether each word of a search is in the label of a setting or its group, in its help, its
// options, its fields, or what its type is called. types is the table of setting types, passed in
// because it brings all of their components.
export const finds = (types: Called, setting: Setting, group: Record<string, string>, search: string): boolean => matches(search, [...texts(setting, types), group]);

// Which of the fields of every pocket a search finds.
export const findsOwn = (path: keyof typeof own, search: string): boolean => matches(search, [own[path]]);
