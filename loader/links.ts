// For hosts that keep links in the content and little else: makes each link to a pocket's page
// a mount point, which the loader then takes.
import { attribute } from "./find";
import { load } from "./load";

declare const __BASE__: string;

const pages = __BASE__ + "/p/";

function take(root: ParentNode) {
  const found = root.querySelectorAll<HTMLAnchorElement>("a[href]");
  for (const link of (root as Element).localName == "a" ? [root as HTMLAnchorElement, ...found] : found) {
    // A link within a mount point is its fallback.
    if (link.href.startsWith(pages) && !link.closest(`[${attribute}]`)) link.setAttribute(attribute, link.href.slice(pages.length).split(/[?#/]/)[0]);
  }
}

take(document);
new MutationObserver((records) => {
  for (const { addedNodes } of records) for (const node of addedNodes) if (node.nodeType == 1) take(node as Element);
}).observe(document, { childList: true, subtree: true });
load("loader").catch(() => console.error(`Glass Pocket: this page's widgets could not be loaded from ${__BASE__}. Links to them stay. Check the service and the Content-Security-Policy.`));
