import { attribute, claimTags, mountPoints } from "./find";
import { forget } from "./forget";
import { mount } from "./mount";
import { report } from "./report";
import type { Global, Module, Payload } from "./types";

declare const __BASE__: string;
export const newest = 2; // the newest payload version that this loader reads

// Mounts a pocket at a mount point if its payload is present; requests it if told to.
export function consider(g: Global, at: HTMLElement, ask?: (key: string) => void) {
  const key = at.getAttribute(attribute)!;
  const live = g.live.get(at);
  if (live?.key == key) return;
  if (live) forget(g, at);
  const here = g.pockets.get(key);
  if (!here) return ask?.(key);
  // A mount point of the page replaces the one that was made at a script's tag before.
  for (const other of here.own) forget(g, other);
  here.own = [];
  mount(g, at, false, here.payload, here.module);
}

function slice(g: Global, list: HTMLElement[], from: number) {
  if (from >= list.length) return;
  setTimeout(() => {
    const end = performance.now() + 5;
    for (; from < list.length && performance.now() < end; from++) if (list[from].isConnected) consider(g, list[from]);
    slice(g, list, from);
  });
}

// Receives a payload: for the page's mount points or, if there are none, at its own tag.
export function take(g: Global, payload: Payload, module?: Module) {
  const key = payload?.key;
  if (!(payload?.n <= newest) || typeof payload.markup != "string") {
    return report(g, key, "needs a newer loader. Reload the page.");
  }
  const known = g.pockets.get(key);
  if (!known || known.payload.publication <= payload.publication) g.pockets.set(key, { payload, module, own: known?.own ?? [] });
  const mine = mountPoints(document, key);
  // The first few at once, for the first paint. A page with very many gets the others in slices, so
  // that it stays responsive, and so does a large pocket.
  const first = payload.markup[8e3] ? 0 : 12;
  for (let i = 0; mine[i] && i < first; i++) consider(g, mine[i]);
  slice(g, mine, first);
  for (const tag of claimTags(`${__BASE__}/s/${key}.js`)) {
    if (mine.length) continue;
    const at = document.createElement("div");
    const place = () => {
      // The head shows nothing: at the end of the page, unless there is a mount point by then.
      if (tag.closest("head")) {
        if (mountPoints(document, key).length) return;
        document.body.append(at);
      } else tag.after(at);
      g.pockets.get(key)!.own.push(at);
      mount(g, at, true, payload, module);
    };
    if (tag.closest("head") && document.readyState == "loading") document.addEventListener("DOMContentLoaded", place);
    else place();
  }
}
