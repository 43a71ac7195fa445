// Synonyms for the search of the fields that every pocket has. Those of setting types are in
// fields/table.ts.
import type { Words } from "./fields/types";

// The console's own fields by their paths, the label first.
export const own: Record<"pocket/title" | "pocket/language" | "pocket/cues" | "pocket/starter", Words> = {
  "pocket/title": { en: "Name rename title of this pocket", de: "Name umbenennen", pl: "nazwa", ar: "اسم" },
  "pocket/language": { en: "Language translation locale", de: "Sprache Übersetzung", pl: "język tłumaczenie", ar: "لغة ترجمة" },
  "pocket/cues": { en: "Where and when it shows hide pages addresses urls home page sites domains", de: "Wo und wann Seiten Adressen Startseite ausblenden", pl: "tylko tutaj strona główna adresy", ar: "هنا فقط الصفحة الرئيسية عناوين" },
  "pocket/starter": { en: "Starter template preset design theme", de: "Vorlage Muster Gestaltung", pl: "szablon wzór", ar: "قالب" },
};
