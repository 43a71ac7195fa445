import type { Setting } from "../api/types";

// What people look for when they want a setting of that type: many mean "colour" and not the
// part that has it. Types that are looked for by nothing but their label are left out.
const called: Record<string, string> = {
  alignment: "alignment centre center",
  border: "border line colour color",
  colour: "colour color",
  date: "date day",
  duration: "duration time seconds",
  font: "font typeface",
  gradient: "gradient colour color",
  image: "image picture photo",
  items: "list",
  link: "link address url",
  list: "list",
  moment: "moment date time",
  money: "money price amount currency",
  shadow: "shadow colour color",
  sound: "sound audio",
  spacing: "spacing space margin padding",
  time: "time hour",
};

const words = (s: Setting): string =>
  [s.label.en, s.help?.en, s.key, called[s.type], ...(s.options ?? []).map((o) => o.label.en), ...(s.fields ?? []).map(words)].join(" ").toLowerCase();

// Whether each word of what is looked for stands in what a setting or its group is called, in
// its help, its options, or what is in it.
export function finds(setting: Setting, group: string, text: string): boolean {
  const all = `${words(setting)} ${group.toLowerCase()}`;
  return text
    .toLowerCase()
    .split(/\s+/)
    .every((word) => all.includes(word));
}
