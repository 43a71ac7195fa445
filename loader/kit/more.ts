// "Show more": a link to the page with the next items, which this loads into the list instead. The
// response is a fragment of the same rendering; see docs/public.md.
import type { Global } from "../types";
import type { Pocket } from "./types";

declare const glassPocket: Global;

export interface More {
  link: HTMLAnchorElement;
  list: HTMLElement; // the view's element with data-items
  failed: string; // label of the link after a failure
  added(items: HTMLElement[], left: number): void; // new items, and how many are left
}

export function more(pocket: Pocket) {
  const { root, signal } = pocket;
  pocket.more = ({ link, list, failed, added }: More) => {
    let busy: Promise<void> | undefined;

    async function load() {
      link.setAttribute("aria-busy", "true");
      try {
        const response = await fetch(link.href.replace("/p/", "/more/"), { credentials: "omit", signal });
        if (!response.ok) throw response.status;
        const { markup, style, next, left } = await response.json();
        const aside = document.implementation.createHTMLDocument("").createElement("template");
        aside.innerHTML = glassPocket.html!.createHTML(markup);
        const known = new Set([...list.children].map((e) => (e as HTMLElement).dataset.item));
        const fresh = [...document.importNode(aside.content, true).children].filter((e) => {
          const id = (e as HTMLElement).dataset.item;
          return !id || !known.has(id);
        }) as HTMLElement[];
        if (style) dress(style);
        list.append(...fresh);
        link.href = next;
        link.hidden = !next;
        added(fresh, left);
      } catch (why) {
        if (!signal.aborted) link.textContent = failed;
        throw why;
      } finally {
        link.removeAttribute("aria-busy");
        busy = undefined;
      }
    }

    function dress(text: string) {
      const shadow = root.getRootNode() as ShadowRoot;
      try {
        const sheet = new CSSStyleSheet();
        sheet.replaceSync(text);
        shadow.adoptedStyleSheets = [...shadow.adoptedStyleSheets, sheet];
      } catch {
        shadow.appendChild(document.createElement("style")).textContent = text;
      }
    }

    const start = () => (busy ||= load());
    // In a preview there is no address, because nothing is published yet.
    if (!link.hasAttribute("href")) link.setAttribute("aria-disabled", "true");
    link.addEventListener("click", (event) => {
      if (event.ctrlKey || event.metaKey || event.shiftKey || event.altKey) return; // in another tab
      event.preventDefault();
      if (!link.hasAttribute("href")) return;
      const focused = (root.getRootNode() as ShadowRoot).activeElement == link;
      const before = list.children.length;
      start().then(
        () => {
          const first = list.children[before] as HTMLElement | undefined;
          if (!focused || !first) return;
          // The keyboard continues at the first new item.
          first.tabIndex = -1;
          first.focus({ preventScroll: true });
        },
        () => {},
      );
    });
    // For a track that loads its next cards in time.
    return () => (link.hidden || !link.hasAttribute("href") ? undefined : start().catch(() => {}));
  };
}
