// Synonyms for the search of the fields that every pocket has. Those of setting types are in
// fields/table.ts, and those of extras in extras.ts.
import type { Words } from "./fields/types";

// The console's own fields by their paths, the label first.
export const own: Record<"pocket/title" | "pocket/language" | "pocket/starter", Words> = {
  "pocket/title": { en: "Name rename title of this pocket", de: "Name umbenennen", pl: "nazwa", ar: "اسم" },
  "pocket/language": { en: "Language translation locale", de: "Sprache Übersetzung", pl: "język tłumaczenie", ar: "لغة ترجمة" },
  "pocket/starter": { en: "Starter template preset design theme", de: "Vorlage Muster Gestaltung", pl: "szablon wzór", ar: "قالب" },
};
