// For pages that delay what is far down: loads a pocket when its mount point is near the window. It
// replaces /loader.js, or a pocket's own script.
import { attribute, mountPoints } from "./find";
import { load } from "./load";

declare const __BASE__: string;

const asked = new Set<string>();
const watch = new IntersectionObserver(
  (entries) => {
    for (const { target, isIntersecting } of entries) {
      if (!isIntersecting) continue;
      watch.unobserve(target);
      const key = target.getAttribute(attribute)!;
      if (asked.has(key)) continue;
      asked.add(key);
      load("s/" + encodeURIComponent(key)).catch(() => {
        asked.delete(key);
        console.error(`Glass Pocket: “${key}” could not be loaded from ${__BASE__}. Its fallback stays. Check the service and the Content-Security-Policy.`);
      });
    }
  },
  { rootMargin: "600px" },
);

function observe(root: ParentNode) {
  for (const at of mountPoints(root)) watch.observe(at);
}

observe(document);
new MutationObserver((records) => {
  for (const { target, attributeName, addedNodes } of records) {
    for (const node of attributeName ? [target] : addedNodes) if (node.nodeType == 1) observe(node as Element);
  }
}).observe(document, { childList: true, subtree: true, attributeFilter: [attribute] });
