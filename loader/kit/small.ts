// What differs on small screens beyond the stylesheet is another rendering. It takes the
// other's place before the first paint, and whenever the screen changes sides; what the
// kit and the widget's script do then begins anew.
import type { Global } from "../types";
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: Global;

export function small(pocket: Pocket, _: Table, on: () => void) {
  const { root, signal } = pocket;
  // A loader that is older than this script may not know.
  const payload = glassPocket.live.get(hostOf(pocket))?.payload;
  const there = payload?.small;
  if (!payload || !there) return on();
  const here = { ...payload, attributes: payload.look.attributes };
  const screen = matchMedia(there.screen);
  let shown: typeof here | typeof there = here;
  let end: AbortController;

  function show() {
    const { markup, attributes, settings } = screen.matches ? there! : here;
    if (markup != shown.markup) {
      const aside = document.implementation.createHTMLDocument("").createElement("template");
      aside.innerHTML = glassPocket.html!.createHTML(markup);
      root.replaceChildren(document.importNode(aside.content, true));
    }
    shown = screen.matches ? there! : here;
    for (const name of Object.keys(attributes)) root.setAttribute(name, attributes[name]);
    end = new AbortController();
    pocket.signal = end.signal;
    pocket.settings = settings;
    on();
  }

  screen.addEventListener("change", () => (end.abort(), show()), { signal });
  signal.addEventListener("abort", () => end.abort());
  show();
}
