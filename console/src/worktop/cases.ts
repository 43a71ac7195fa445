// Conditions for viewing a widget, each one click away.
import type { Case, PreviewedFolder } from "../api/types";
import { isList } from "../editor/made";
import type { Host } from "./frame";

export interface PreviewCase {
  id: string;
  label: string;
  about: string;
  width: number | null; // CSS pixels of the page, null for the available width
  ask: Case;
  host: Host;
}


export const languageNames = new Intl.DisplayNames(["en"], { type: "language" });

// The cases that make sense for a widget, the default first.
export function casesOf(widget: PreviewedFolder | null): PreviewCase[] {
  // A widget that reads the scroll position needs something to scroll.
  const plain: Host = { page: "light", copies: 1, long: !!widget?.readsPage };
  const one = (id: string, label: string, about: string, more: Partial<PreviewCase> = {}): PreviewCase => ({ id, label, about, width: null, ask: {}, host: plain, ...more });
  const list = [
    one("usual", "Default", "Sample content on a wide page"),
    one("phone", "Phone", "A page 360 pixels wide", { width: 360 }),
    one("column", "Column", "A side column of 240 pixels", { width: 240 }),
  ];
  if (widget?.settings.some(isList)) {
    list.push(one("none", "No items", "Empty lists", { ask: { content: "none" } }), one("many", "Many", "Lists with the maximum number of items", { ask: { content: "many" } }));
  }
  list.push(one("long", "Long words", "Words that do not break", { ask: { content: "long" }, width: 360 }), one("turned", "Right to left", "As in Arabic or Hebrew", { ask: { turned: true } }));
  list.push(
    one("bar", "Top bar", "The page has a fixed bar at the top", { host: { ...plain, page: "bar" } }),
    one("dark", "Dark page", "The page is dark", { host: { ...plain, page: "dark" } }),
    one("twice", "Two copies", "Two copies on one page", { host: { ...plain, copies: 2 } }),
  );
  return list;
}
