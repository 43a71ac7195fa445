// A month as a table above the list (WAI-ARIA: a plain table of buttons). A day with dates shows only
// those; the first press on it chooses it, the next one shows all again.
import type { Pocket } from "./pocket";
import { localeOf } from "./times";

const key = (at: Date) => `${at.getFullYear()}-${at.getMonth()}-${at.getDate()}`;

export function month({ root, language, say }: Pocket, box: HTMLElement, list: HTMLElement) {
  const written = localeOf(language);
  const title = new Intl.DateTimeFormat(written, { month: "long", year: "numeric" });
  const long = new Intl.DateTimeFormat(written, { day: "numeric", month: "long" });
  const weekday = new Intl.DateTimeFormat(written, { weekday: "short" });
  const locale = new Intl.Locale(written) as Intl.Locale & { weekInfo?: { firstDay: number }; getWeekInfo?(): { firstDay: number } };
  const begins = (locale.getWeekInfo?.() || locale.weekInfo)?.firstDay ?? 1;
  let shown: Date | undefined;
  let chosen = "";

  const make = <K extends keyof HTMLElementTagNameMap>(tag: K, style: string, text = "") => {
    const element = document.createElement(tag);
    element.className = style;
    element.textContent = text;
    return element;
  };

  // The days of each date, by their keys.
  function days() {
    const of: Record<string, HTMLElement[]> = {};
    for (const date of list.children as HTMLCollectionOf<HTMLElement>) {
      const at = new Date(date.dataset.start!);
      const end = new Date(Date.parse(date.dataset.end!) - 1);
      for (let i = 0; i < 60 && at <= end; i++, at.setDate(at.getDate() + 1)) (of[key(at)] ||= []).push(date);
    }
    return of;
  }

  function choose(day: string) {
    chosen = chosen == day ? "" : day;
    draw(day);
  }

  function draw(focus = "") {
    const of = days();
    if (!shown) {
      const first = list.children[0] as HTMLElement | undefined;
      shown = first ? new Date(first.dataset.start!) : new Date();
      shown.setDate(1);
    }
    if (chosen && !of[chosen]) chosen = "";
    const only = new Set(chosen ? of[chosen] : []);
    for (const date of list.children as HTMLCollectionOf<HTMLElement>) date.hidden = !!chosen && !only.has(date);

    const head = make("div", "turn");
    const step = (by: number, word: "back" | "on") => {
      const button = make("button", word);
      button.type = "button";
      button.ariaLabel = say(word);
      button.append(make("span", "arrow"));
      button.addEventListener("click", () => {
        shown!.setMonth(shown!.getMonth() + by);
        draw(word);
      });
      return button;
    };
    const caption = make("p", "caption", title.format(shown));
    caption.setAttribute("aria-live", "polite");
    head.append(step(-1, "back"), caption, step(1, "on"));
    const table = make("table", "grid");
    const names = table.createTHead().insertRow();
    for (let i = 0; i < 7; i++) {
      const day = new Date(2024, 0, 7 + begins + i); // 7 January 2024 was a Sunday
      const cell = make("th", "", weekday.format(day));
      cell.scope = "col";
      names.append(cell);
    }
    const body = table.createTBody();
    const at = new Date(shown);
    at.setDate(1 - ((at.getDay() - begins + 7) % 7));
    const today = key(new Date());
    do {
      const row = body.insertRow();
      for (let i = 0; i < 7; i++, at.setDate(at.getDate() + 1)) {
        const cell = row.insertCell();
        const day = key(at);
        if (at.getMonth() != shown.getMonth()) continue;
        const dates = of[day];
        const number = make(dates ? "button" : "span", "number", String(at.getDate()));
        if (day == today) number.dataset.today = "";
        if (dates) {
          (number as HTMLButtonElement).type = "button";
          number.dataset.day = day;
          number.ariaPressed = String(chosen == day);
          number.ariaLabel = `${long.format(at)}: ${say("dates", dates.length)}`;
          number.addEventListener("click", () => choose(day));
        }
        cell.append(number);
      }
    } while (at.getMonth() == shown.getMonth());
    const had = (root.getRootNode() as ShadowRoot).activeElement;
    box.replaceChildren(head, table);
    box.hidden = false;
    if (focus && had != box) box.querySelector<HTMLElement>(focus == "back" || focus == "on" ? "." + focus : `[data-day="${focus}"]`)?.focus();
  }
  return () => draw();
}
