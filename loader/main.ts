// The loader. It finds mount points, takes payloads in, mounts, forgets and reports, and
// leaves the rest of the page alone. The service puts its public address into __BASE__.
import { attribute, mountPoints } from "./find";
import { forget, forgetRemoved } from "./forget";
import { load } from "./load";
import { report } from "./report";
import { consider, newest, take } from "./take";
import type { Global } from "./types";

declare const __BASE__: string;
const w = window as unknown as { glassPocket?: Global };

// An older loader hands over what it has; a newer or equal one stays.
if (!(w.glassPocket?.n! >= newest)) {
  const old = w.glassPocket;
  const asked = new Set<string>();
  let ask: ((key: string) => void) | undefined;
  const g: Global = (w.glassPocket = {
    n: newest,
    pockets: old?.pockets || new Map(),
    live: old?.live || new Map(),
    said: old?.said || {},
    clock: old?.clock || { offset: 0, ticks: new Set() },
    html: old?.html,
    take: (payload, module) => take(g, payload, module),
    // Fetch what mount points name: one request a key, for pages with the loader alone.
    auto() {
      ask = (key) => {
        if (asked.has(key)) return;
        asked.add(key);
        load("s/" + encodeURIComponent(key)).then(undefined, () => {
          asked.delete(key);
          report(g, key, `could not be loaded from ${__BASE__}. Its fallback stays. Check the service and the Content-Security-Policy.`);
        });
      };
      for (const at of mountPoints(document)) consider(g, at, ask);
    },
    drop(key) {
      for (const [at, instance] of g.live) if (instance.key == key) forget(g, at);
      g.pockets.delete(key);
    },
  });
  // The older loader goes on watching the page, and would mount with its own hands what
  // it still finds in its store.
  if (old) old.pockets = new Map();
  new MutationObserver((records) => {
    let removed = false;
    let consent = false;
    for (const { target, attributeName, addedNodes, removedNodes } of records) {
      removed ||= !!removedNodes[0];
      consent ||= attributeName == "data-glass-consent";
      for (const node of attributeName ? [target] : addedNodes) {
        if (node.nodeType == 1 && node.isConnected) for (const at of mountPoints(node as HTMLElement)) consider(g, at, ask);
      }
    }
    if (removed) forgetRemoved(g);
    if (consent) for (const instance of new Set(g.live.values())) instance.consent?.();
  }).observe(document, { childList: true, subtree: true, attributeFilter: [attribute, "data-glass-consent"] });
  // What a page's owner adds to the address to be told what stands in the page and why.
  const why = () => {
    if (location.hash.endsWith("#glass-pocket-why")) load("why");
  };
  addEventListener("hashchange", why);
  why();
}
