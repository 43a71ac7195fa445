// The setting types: one row each, with the component in this folder.
import type { Component } from "svelte";
import type { Setting } from "../../api/types";
import AlignmentField from "./AlignmentField.svelte";
import BorderField from "./BorderField.svelte";
import ChoiceField from "./ChoiceField.svelte";
import ChoicesField from "./ChoicesField.svelte";
import ColourField from "./ColourField.svelte";
import DateField from "./DateField.svelte";
import DurationField from "./DurationField.svelte";
import FontField from "./FontField.svelte";
import GradientField from "./GradientField.svelte";
import GroupField from "./GroupField.svelte";
import HeadingField from "./HeadingField.svelte";
import IconField from "./IconField.svelte";
import ImageField from "./ImageField.svelte";
import LanguageField from "./LanguageField.svelte";
import LengthField from "./LengthField.svelte";
import LinkField from "./LinkField.svelte";
import ListField from "./ListField.svelte";
import MomentField from "./MomentField.svelte";
import MoneyField from "./MoneyField.svelte";
import NumberField from "./NumberField.svelte";
import RatingField from "./RatingField.svelte";
import RichField from "./RichField.svelte";
import ShadowField from "./ShadowField.svelte";
import SoundField from "./SoundField.svelte";
import SpacingField from "./SpacingField.svelte";
import SwitchField from "./SwitchField.svelte";
import TagsField from "./TagsField.svelte";
import TextField from "./TextField.svelte";
import type { FieldProps, Words } from "./types";

export interface Row {
  field: Component<FieldProps>;
  // It has several controls, so that a label cannot refer to one.
  several?: true;
  // Its control is beside the label, not below it.
  beside?: true;
  // Its control offers the page's own value itself.
  inherits?: true;
  // Its value is a list of items.
  many?: true;
  // It names the item that it is part of.
  names?: true;
  // It can refer to a brand's value: whether that shows as a swatch or an image, and its words; ""
  // if it describes itself.
  brand?: { as?: "swatch" | "image"; words: string };
  // The values that can decide whether other settings have an effect.
  decides?: (setting: Setting) => { value: unknown; label: string }[];
  // Synonyms for the search of settings. Without them, a setting is found by its label.
  called?: Words;
}

const optionsOf = (setting: Setting) => (setting.options ?? []).map((o) => ({ value: o.value as unknown, label: o.label.en ?? o.value }));

export const types: Record<string, Row> = {
  alignment: { field: AlignmentField, several: true, called: { en: "align left right centre center", de: "Ausrichtung links rechts mittig zentriert", pl: "wyrównanie", ar: "محاذاة" } },
  border: { field: BorderField, several: true, called: { en: "line outline frame colour color", de: "Rahmen Linie Rand Farbe", pl: "ramka linia", ar: "إطار" } },
  choice: { field: ChoiceField, decides: optionsOf },
  choices: { field: ChoicesField, several: true, called: { en: "show hide parts", de: "zeigen verbergen ausblenden", pl: "pokaż ukryj", ar: "إظهار إخفاء" } },
  colour: { field: ColourField, brand: { as: "swatch", words: "" }, called: { en: "colour color dark light theme mode", de: "Farbe dunkel hell", pl: "kolor ciemny jasny", ar: "لون داكن فاتح" } },
  date: { field: DateField, called: { en: "date day calendar", de: "Datum Tag Kalender", pl: "data dzień", ar: "تاريخ" } },
  duration: { field: DurationField, called: { en: "time seconds minutes speed delay", de: "Dauer Zeit Sekunden Tempo", pl: "czas sekundy", ar: "مدة" } },
  font: { field: FontField, inherits: true, brand: { words: "The brand's font" }, called: { en: "font typeface lettering bold", de: "Schrift Schriftart fett", pl: "czcionka krój pogrubienie", ar: "خط" } },
  gradient: { field: GradientField, several: true, called: { en: "colour color fade", de: "Verlauf Farbe", pl: "kolor przejście", ar: "تدرج لون" } },
  group: { field: GroupField, several: true },
  heading: { field: HeadingField, called: { en: "heading level size", de: "Überschrift Ebene", pl: "nagłówek", ar: "عنوان" } },
  icon: { field: IconField, called: { en: "icon symbol sign", de: "Symbol Zeichen", pl: "ikona", ar: "رمز" } },
  image: { field: ImageField, several: true, brand: { as: "image", words: "The brand's image" }, called: { en: "image picture photo upload", de: "Bild Foto hochladen", pl: "obraz zdjęcie", ar: "صورة" } },
  items: { field: ListField, several: true, many: true, called: { en: "list entries add remove sort order hide", de: "Liste Einträge sortieren Reihenfolge ausblenden", pl: "lista sortowanie kolejność", ar: "قائمة ترتيب" } },
  language: { field: LanguageField, called: { en: "language translation", de: "Sprache Übersetzung", pl: "język", ar: "لغة" } },
  length: { field: LengthField, called: { en: "size width height", de: "Größe Breite Höhe", pl: "rozmiar szerokość wysokość", ar: "حجم عرض" } },
  link: { field: LinkField, called: { en: "link address url button", de: "Link Adresse Knopf", pl: "odnośnik adres", ar: "رابط" } },
  list: { field: ListField, several: true, many: true, called: { en: "list entries add remove sort order hide", de: "Liste Einträge sortieren Reihenfolge", pl: "lista sortowanie kolejność", ar: "قائمة ترتيب" } },
  moment: { field: MomentField, called: { en: "date time deadline day", de: "Datum Uhrzeit Zeitpunkt", pl: "data godzina", ar: "موعد تاريخ وقت" } },
  money: { field: MoneyField, called: { en: "price amount currency", de: "Preis Betrag Währung", pl: "cena kwota waluta", ar: "سعر" } },
  number: { field: NumberField, called: { en: "number size", de: "Zahl Größe", pl: "liczba rozmiar", ar: "رقم حجم" } },
  rating: { field: RatingField, several: true, called: { en: "stars score", de: "Sterne Bewertung", pl: "gwiazdki ocena", ar: "نجوم" } },
  richText: { field: RichField, several: true, called: { en: "text bold italic link paragraph", de: "Text fett kursiv Absatz", pl: "tekst pogrubienie kursywa", ar: "نص عريض مائل" } },
  shadow: { field: ShadowField, several: true, called: { en: "depth colour color", de: "Schatten Tiefe", pl: "cień", ar: "ظل" } },
  sound: { field: SoundField, several: true, called: { en: "audio volume", de: "Ton Klang", pl: "dźwięk", ar: "صوت" } },
  spacing: { field: SpacingField, several: true, called: { en: "space margin padding distance size", de: "Abstand Rand Innenabstand", pl: "odstęp margines", ar: "مسافة" } },
  switch: { field: SwitchField, several: true, beside: true, decides: () => [{ value: true, label: "On" }, { value: false, label: "Off" }], called: { en: "show hide on off", de: "zeigen verbergen ausblenden an aus", pl: "pokaż ukryj", ar: "إظهار إخفاء" } },
  tags: { field: TagsField, called: { en: "labels keywords", de: "Schlagworte", pl: "tagi", ar: "وسوم" } },
  text: { field: TextField, names: true },
  time: { field: DateField, called: { en: "hour clock", de: "Uhrzeit Stunde", pl: "godzina", ar: "وقت" } },
};
