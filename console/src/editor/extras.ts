// The extras are the fields of a draft besides its name, language, starter and settings. Each has
// one row here and a component in this folder.
import type { Component } from "svelte";
import type { Draft } from "../api/types";
import type { PocketEditor } from "./editor.svelte";
import type { Words } from "./fields/types";
import OnlyHere from "./OnlyHere.svelte";

// The names of the extras in the API's drafts. The compiler demands a row for each.
type Key = Exclude<keyof Draft, "revision" | "settings" | "changedAt" | "changedBy" | "title" | "language" | "starter" | "aside">;

interface Extra {
  label: string;
  search: Words; // label and synonyms
  empty: unknown; // the value if none is set
  draws: boolean; // whether the preview shows it
  control?: Component<{ editor: PocketEditor }>; // without one, it is beside the setting that it is about
}

export const extras: Record<Key, Extra> = {
  cues: {
    label: "Where and when it shows",
    search: { en: "Where and when it shows hide pages addresses urls home page sites domains", de: "Wo und wann Seiten Adressen Startseite ausblenden", pl: "tylko tutaj strona główna adresy", ar: "هنا فقط الصفحة الرئيسية عناوين" },
    empty: {},
    draws: false,
    control: OnlyHere,
  },
  sources: {
    label: "Sources",
    search: { en: "sources feed rss calendar reviews import", de: "Quellen Feed Kalender Bewertungen", pl: "źródła kanał", ar: "مصادر" },
    empty: {},
    draws: true,
  },
};

// The extras of a draft, by key.
export const extrasOf = (draft: Pick<Draft, Key>): Record<string, unknown> => Object.fromEntries(Object.entries(extras).map(([key, extra]) => [key, draft[key as Key] ?? extra.empty]));

// Whether a path is an extra's that the preview does not show.
export function unseen(path: string) {
  const extra = (extras as Record<string, Extra>)[path.replace("pocket/", "")];
  return !!extra && !extra.draws;
}
