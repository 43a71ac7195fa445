// The times of a date: in the visitor's zone if that is wanted, and labels that depend on the present.
import type { Pocket } from "./pocket";

// "en" is British, as in the service's own dates.
export const localeOf = (language: string) => (language == "en" ? "en-GB" : language);

const day = (at: number) => new Date(at).toDateString();

// Returns what writes a date's times and labels. It returns the milliseconds until they change, or 0
// if the date is over.
export function times({ settings, language, say }: Pocket) {
  const locale = localeOf(language);
  const own = settings.zone == "visitor";
  // Made when needed: a browser takes some 50 ms for its first object of Intl.
  const format = (at: number, options: Intl.DateTimeFormatOptions) => new Intl.DateTimeFormat(locale, options).format(at);
  const written = new WeakSet<Element>();

  // The name of the visitor's zone at a time.
  function zone(at: number) {
    const parts = new Intl.DateTimeFormat(locale, { timeZoneName: "short" }).formatToParts(at);
    return parts.find((part) => part.type == "timeZoneName")?.value || "";
  }

  return (date: HTMLElement, now: number) => {
    const { start = "", end = "" } = date.dataset;
    const from = Date.parse(start);
    const over = Date.parse(end);
    if (over <= now) return 0;
    const days = "day" in date.dataset;
    if (own && !days && !written.has(date)) {
      written.add(date);
      const first = date.querySelector<HTMLTimeElement>(".from")!;
      const last = date.querySelector<HTMLTimeElement>(".to");
      first.textContent = format(from, { dateStyle: "full" }) + ", " + format(from, { timeStyle: "short" });
      if (last) {
        const to = Date.parse(last.dateTime);
        last.textContent = (day(to) == day(from) ? "" : format(to, { dateStyle: "full" }) + ", ") + format(to, { timeStyle: "short" });
      }
      date.querySelector(".zone")!.textContent = zone(from);
      const leaf = date.querySelector(".leaf");
      const part = (name: string, options: Intl.DateTimeFormatOptions) => (leaf!.querySelector(name)!.textContent = format(from, options));
      if (leaf) {
        part(".weekday", { weekday: "short" });
        part(".day", { day: "numeric" });
        part(".of", { month: "short" });
      }
    }
    const off = date.classList.contains("cancelled");
    const label = date.querySelector<HTMLElement>(".soon")!;
    const tomorrow = new Date(now);
    tomorrow.setDate(tomorrow.getDate() + 1);
    // Cancelled dates do not happen, so they are not "now".
    const word = from <= now ? (off ? "" : "ongoing") : day(from) == day(now) ? "today" : day(from) == tomorrow.toDateString() ? "tomorrow" : "";
    label.hidden = !word;
    const text = word && say(word as "today");
    if (label.textContent != text) label.textContent = text;
    date.dataset.soon = word;
    const midnight = new Date(now);
    midnight.setHours(24, 0, 0, 0);
    return Math.max(1, Math.min(over - now, from > now ? from - now : Infinity, midnight.getTime() - now));
  };
}
