// Replaces a rendering. It is parsed in a separate document, where nothing loads and innerHTML
// means HTML even if the page is XHTML.
import type { Global } from "../types";

declare const glassPocket: Global;

export function place(root: HTMLElement, markup: string) {
  const aside = document.implementation.createHTMLDocument("").createElement("template");
  aside.innerHTML = glassPocket.html!.createHTML(markup);
  root.replaceChildren(document.importNode(aside.content, true));
}
