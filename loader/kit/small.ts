// If small screens differ by more than the stylesheet, they have another rendering. It replaces
// the first one before the first paint, and whenever the screen crosses the limit. What the kit and
// the widget's script do then starts again.
import type { Global } from "../types";
import { place } from "./place";
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: Global;

export function small(pocket: Pocket, _: Table, on: () => void) {
  const { root, signal } = pocket;
  // A loader that is older than this script may not have it.
  const payload = glassPocket.live.get(hostOf(pocket))?.payload;
  const there = payload?.small;
  if (!payload || !there) return on();
  const here = { ...payload, attributes: payload.look.attributes };
  const screen = matchMedia(there.screen);
  let end: AbortController | undefined;

  function show() {
    const { markup, attributes, settings } = screen.matches ? there! : here;
    end?.abort();
    // Even if the markup is the same, because the old script has listeners on it.
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
