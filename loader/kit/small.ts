// What differs on small screens beyond the stylesheet is another rendering. It takes the
// other's place before the first paint, and whenever the screen changes sides; what the
// kit and the widget's script do then begins anew.
import type { Global } from "../types";
import { place } from "./place";
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
  let end: AbortController | undefined;

  function show() {
    const { markup, attributes, settings } = screen.matches ? there! : here;
    end?.abort();
    // Anew even where it is the same markup: the script that was there has listeners on it.
    if (end || screen.matches) place(root, markup);
    for (const name of Object.keys(attributes)) root.setAttribute(name, attributes[name]);
    end = new AbortController();
    pocket.signal = end.signal;
    pocket.settings = settings;
    on();
  }

  screen.addEventListener("change", show, { signal });
  signal.addEventListener("abort", () => end?.abort());
  show();
}
