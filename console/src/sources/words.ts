// How items and numbers of them are described.
import type { SourceItem } from "../api/types";
import { ago } from "../ui/time";

export const count = (n: number, what: string) => `${n} ${what}${n == 1 ? "" : "s"}`;

// How long something lasts: "for 2 hours".
export function lasting(since: string): string {
  const words = ago(since).replace(/ ago$/, "");
  return words == "just now" ? words : /^\d/.test(words) ? `for ${words}` : `since ${words}`;
}

// A short name for an item.
export function nameOf({ values }: SourceItem): string {
  const text = (values.title || values.text || (values.author as { name?: string } | undefined)?.name || "An item without a text") as string;
  return text.length > 70 ? text.slice(0, 69) + "…" : text;
}

// What an item is besides its name: author, rating, date.
export function aboutOf({ values }: SourceItem): string[] {
  const author = (values.author as { name?: string } | undefined)?.name;
  const rating = values.rating as { value?: number; best?: number } | undefined;
  const time = ((values.startDate ?? values.at) as string | undefined)?.slice(0, 10); // in the zone that it states
  const at = time && new Date(time).toLocaleDateString("en-GB", { day: "numeric", month: "short", year: "numeric", timeZone: "UTC" });
  return [author, rating?.value !== undefined && `${rating.value} of ${rating.best}`, at].filter((part): part is string => !!part);
}
