// For hosts that keep little more than links: converts each link to a pocket's page to a mount
// point, which the loader then fills.
import { attribute } from "./find";
import { load } from "./load";

declare const __BASE__: string;

const pages = __BASE__ + "/p/";

function convert(root: ParentNode) {
  const found = root.querySelectorAll<HTMLAnchorElement>("a[href]");
  for (const link of (root as Element).localName == "a" ? [root as HTMLAnchorElement, ...found] : found) {
    // A link within a mount point is its fallback.
    if (link.href.startsWith(pages) && !link.closest(`[${attribute}]`)) link.setAttribute(attribute, link.href.slice(pages.length).split(/[?#/]/)[0]);
  }
}

convert(document);
new MutationObserver((records) => {
  for (const { addedNodes } of records) for (const node of addedNodes) if (node.nodeType == 1) convert(node as Element);
}).observe(document, { childList: true, subtree: true });
load("loader").catch(() => console.error(`Glass Pocket: this page's widgets could not be loaded from ${__BASE__}. Links to them stay. Check the service and the Content-Security-Policy.`));
