// Puts a rendering in place of what is there: parsed in a document of its own, where nothing
// loads and where innerHTML speaks HTML even when the page is XHTML.
import type { Global } from "../types";

declare const glassPocket: Global;

export function place(root: HTMLElement, markup: string) {
  const aside = document.implementation.createHTMLDocument("").createElement("template");
  aside.innerHTML = glassPocket.html!.createHTML(markup);
  root.replaceChildren(document.importNode(aside.content, true));
}
