// The conditions of a preview: page, visitor, date and time.
import type { Conditions, Payload } from "../api/types";
import type { Host, In } from "./stage";

export type { Conditions };

export const pages: [string, string][] = [
  ["light", "Light page"],
  ["tinted", "Tinted page"],
  ["dark", "Dark page"],
  ["photo", "Photo background"],
  ["column", "Side column"],
  ["bar", "Page with a top bar"],
];
export const contents: [string, string][] = [
  ["", "Unchanged"],
  ["none", "No items"],
  ["one", "One item"],
  ["many", "Many items"],
  ["long", "Long words"],
];
export const visitors: [string, string][] = [
  ["", "Opened"],
  ["new", "New visitor"],
  ["returning", "Returning visitor"],
];
export const widths: [number, string][] = [
  [0, "Full"],
  [768, "Tablet"],
  [360, "Phone"],
];

export const languageNames = new Intl.DisplayNames(["en"], { type: "language" });

export const zoneOf = (moment: string) => /\[(.*)\]$/.exec(moment)?.[1] ?? "";
export const wallOf = (moment: string) => /^([^[Z+]*)/.exec(moment)?.[1] ?? "";

// A moment in words: "1 March 2027 at 18:00, Europe/Berlin".
const sayMoment = new Intl.DateTimeFormat("en-GB", { dateStyle: "long", timeStyle: "short", timeZone: "UTC" });
export function inWords(moment: string): string {
  const at = Date.parse(wallOf(moment) + "Z");
  return isNaN(at) ? moment : `${sayMoment.format(at)}, ${zoneOf(moment)}`;
}

// The page around the pocket, for its frame.
export const hostOf = (c: Conditions, long: boolean): Host => ({ page: (c.page || "light") as Host["page"], copies: 1, long });

// The conditions that the frame simulates. A payload is built at the simulated time.
export function frameIn(c: Conditions, payload: Payload): In {
  const it: In = {};
  if (c.moment) Object.assign(it, { at: payload.built, frozen: !!c.frozen, zone: zoneOf(c.moment) });
  if (c.still) it.still = true;
  if (c.facts) it.facts = c.facts;
  if (c.visitor) it.visitor = c.visitor as In["visitor"];
  return it;
}

const momentForm = new Intl.DateTimeFormat("en", { dateStyle: "medium", timeStyle: "short", timeZone: "UTC" });

// Describes each condition that is not the default.
export function words(c: Conditions): [keyof Conditions, string][] {
  const list: [keyof Conditions, string][] = [];
  const named = (table: [string, string][], value: string) => table.find(([v]) => v == value)?.[1] ?? value;
  if (c.width) list.push(["width", `${c.width} px wide`]);
  if (c.page && c.page != "light") list.push(["page", named(pages, c.page)]);
  if (c.language) list.push(["language", languageNames.of(c.language) ?? c.language]);
  if (c.turned) list.push(["turned", "Right to left"]);
  if (c.content) list.push(["content", named(contents, c.content)]);
  if (c.still) list.push(["still", "Reduced motion"]);
  if (c.visitor) list.push(["visitor", named(visitors, c.visitor)]);
  const stated = Object.values(c.facts ?? {});
  if (stated.length) list.push(["facts", `The page states ${stated.map((v) => (v == "true" ? "who is signed in" : `“${v}”`)).join(", ")}`]);
  if (c.moment) {
    const wall = Date.parse(wallOf(c.moment) + "Z");
    list.push(["moment", `${isNaN(wall) ? c.moment : momentForm.format(wall)}, ${zoneOf(c.moment)}${c.frozen ? ", clock stopped" : ""}`]);
  }
  return list;
}
