// The loader. It finds mount points, receives payloads, mounts and removes pockets and reports
// errors, and leaves the rest of the page alone. The service inserts its public address as
// __BASE__.
import { attribute, mountPoints } from "./find";
import { forget, forgetRemoved } from "./forget";
import { load } from "./load";
import { report } from "./report";
import { consider, newest, take } from "./take";
import type { Global } from "./types";

declare const __BASE__: string;
const w = window as unknown as { glassPocket?: Global };

// An older loader hands over its data; a newer or equal one stays in charge.
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
    // Loads the pockets that mount points name, one request per key, for pages with the loader
    // alone.
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
  // The older loader still observes the page, and would mount what it finds in its own store.
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
  // A page's owner adds this to the address for a report about the pockets in the page.
  const why = () => {
    if (location.hash.endsWith("#glass-pocket-why")) load("why");
  };
  addEventListener("hashchange", why);
  why();
}
