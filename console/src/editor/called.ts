// Synonyms for the search of settings, by setting type, and for the fields of every pocket. Types
// without synonyms are found by their labels.
type Words = Record<"en" | "de" | "pl" | "ar", string>;

export const called: Record<string, Words> = {
  alignment: { en: "align left right centre center", de: "Ausrichtung links rechts mittig zentriert", pl: "wyrównanie", ar: "محاذاة" },
  border: { en: "line outline frame colour color", de: "Rahmen Linie Rand Farbe", pl: "ramka linia", ar: "إطار" },
  choices: { en: "show hide parts", de: "zeigen verbergen ausblenden", pl: "pokaż ukryj", ar: "إظهار إخفاء" },
  colour: { en: "colour color dark light theme mode", de: "Farbe dunkel hell", pl: "kolor ciemny jasny", ar: "لون داكن فاتح" },
  date: { en: "date day calendar", de: "Datum Tag Kalender", pl: "data dzień", ar: "تاريخ" },
  duration: { en: "time seconds minutes speed delay", de: "Dauer Zeit Sekunden Tempo", pl: "czas sekundy", ar: "مدة" },
  font: { en: "font typeface lettering bold", de: "Schrift Schriftart fett", pl: "czcionka krój pogrubienie", ar: "خط" },
  gradient: { en: "colour color fade", de: "Verlauf Farbe", pl: "kolor przejście", ar: "تدرج لون" },
  heading: { en: "heading level size", de: "Überschrift Ebene", pl: "nagłówek", ar: "عنوان" },
  icon: { en: "icon symbol sign", de: "Symbol Zeichen", pl: "ikona", ar: "رمز" },
  image: { en: "image picture photo upload", de: "Bild Foto hochladen", pl: "obraz zdjęcie", ar: "صورة" },
  items: { en: "list entries add remove sort order hide", de: "Liste Einträge sortieren Reihenfolge ausblenden", pl: "lista sortowanie kolejność", ar: "قائمة ترتيب" },
  language: { en: "language translation", de: "Sprache Übersetzung", pl: "język", ar: "لغة" },
  length: { en: "size width height", de: "Größe Breite Höhe", pl: "rozmiar szerokość wysokość", ar: "حجم عرض" },
  link: { en: "link address url button", de: "Link Adresse Knopf", pl: "odnośnik adres", ar: "رابط" },
  list: { en: "list entries add remove sort order hide", de: "Liste Einträge sortieren Reihenfolge", pl: "lista sortowanie kolejność", ar: "قائمة ترتيب" },
  moment: { en: "date time deadline day", de: "Datum Uhrzeit Zeitpunkt", pl: "data godzina", ar: "موعد تاريخ وقت" },
  money: { en: "price amount currency", de: "Preis Betrag Währung", pl: "cena kwota waluta", ar: "سعر" },
  number: { en: "number size", de: "Zahl Größe", pl: "liczba rozmiar", ar: "رقم حجم" },
  rating: { en: "stars score", de: "Sterne Bewertung", pl: "gwiazdki ocena", ar: "نجوم" },
  richText: { en: "text bold italic link paragraph", de: "Text fett kursiv Absatz", pl: "tekst pogrubienie kursywa", ar: "نص عريض مائل" },
  shadow: { en: "depth colour color", de: "Schatten Tiefe", pl: "cień", ar: "ظل" },
  sound: { en: "audio volume", de: "Ton Klang", pl: "dźwięk", ar: "صوت" },
  spacing: { en: "space margin padding distance size", de: "Abstand Rand Innenabstand", pl: "odstęp margines", ar: "مسافة" },
  switch: { en: "show hide on off", de: "zeigen verbergen ausblenden an aus", pl: "pokaż ukryj", ar: "إظهار إخفاء" },
  tags: { en: "labels keywords", de: "Schlagworte", pl: "tagi", ar: "وسوم" },
  time: { en: "hour clock", de: "Uhrzeit Stunde", pl: "godzina", ar: "وقت" },
};

// The console's own fields by their paths, the label first.
export const own: Record<"pocket/title" | "pocket/language" | "pocket/cues" | "pocket/starter", Words> = {
  "pocket/title": { en: "Name rename title of this pocket", de: "Name umbenennen", pl: "nazwa", ar: "اسم" },
  "pocket/language": { en: "Language translation locale", de: "Sprache Übersetzung", pl: "język tłumaczenie", ar: "لغة ترجمة" },
  "pocket/cues": { en: "Where and when it shows hide pages addresses urls home page sites domains", de: "Wo und wann Seiten Adressen Startseite ausblenden", pl: "tylko tutaj strona główna adresy", ar: "هنا فقط الصفحة الرئيسية عناوين" },
  "pocket/starter": { en: "Starter template preset design theme", de: "Vorlage Muster Gestaltung", pl: "szablon wzór", ar: "قالب" },
};
