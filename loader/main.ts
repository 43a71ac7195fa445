// The loader. It finds mount points, takes payloads in, mounts, forgets and reports, and
// leaves the rest of the page alone. The service puts its public address into __BASE__.
import { mountPoints } from "./find";
import { forget, forgetRemoved } from "./forget";
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
    take: (payload, module) => take(g, __BASE__, payload, module),
    // Fetch what mount points name: one request a key, for pages with the loader alone.
    auto() {
      ask = (key) => {
        if (asked.has(key)) return;
        asked.add(key);
        import(`${__BASE__}/s/${encodeURIComponent(key)}.js`).catch(() => {
          asked.delete(key);
          report(g, key, `could not be loaded from ${__BASE__}; its fallback stays. Is the service running, and does the page's Content-Security-Policy allow this address?`);
        });
      };
      mountPoints(document).forEach((at) => consider(g, at, ask));
    },
    drop(key) {
      for (const [at, instance] of [...g.live]) if (instance.key == key) forget(g, at);
      g.pockets.delete(key);
    },
  });
  new MutationObserver((records) => {
    let removed = false;
    for (const { target, type, addedNodes, removedNodes } of records) {
      removed ||= removedNodes.length > 0;
      (type == "attributes" ? [target] : addedNodes).forEach((node) => {
        if (node.nodeType == 1 && node.isConnected) mountPoints(node as HTMLElement).forEach((at) => consider(g, at, ask));
      });
    }
    if (removed) forgetRemoved(g);
  }).observe(document, { childList: true, subtree: true, attributeFilter: ["data-glass-pocket"] });
}
