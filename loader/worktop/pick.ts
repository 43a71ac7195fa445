// What makes the part of a widget that is pointed at.
import { touches } from "./touch";
import type { Part, Step } from "./types";

const markOf = (e: Element) => (e.hasAttribute("data-glass-part") ? Number(e.getAttribute("data-glass-part")) : null);
export const marker = (rule: number) => `--glass-rule-${rule}`;

// What people look for first when they ask where something comes from.
const wanted = ["color", "background-color", "font-family", "font-size", "font-weight", "line-height", "margin", "padding", "border", "border-radius", "width", "height", "display", "gap"];

let registered = 0;
export function register(rules: number) {
  for (; registered < rules; registered++) {
    // Registered, so that a rule's marker does not reach the elements within.
    try {
      CSS.registerProperty({ name: marker(registered), syntax: "*", inherits: false });
    } catch {
      // There already: the frame's window outlives its document.
    }
  }
}

function hitting(style: CSSStyleDeclaration, rules: number) {
  const list: number[] = [];
  for (let i = 0; i < rules; i++) if (style.getPropertyValue(marker(i))) list.push(i);
  return list;
}

// Everything that the worktop wants to know of an element and those around it.
export function part(at: Element, rules: number): Part {
  const steps: Step[] = [];
  for (let e: Element | null = at; e; e = e.parentElement) {
    const pseudo: Step["pseudo"] = {};
    if (e == at) {
      for (const name of ["::before", "::after", "::marker", "::placeholder", "::backdrop"]) {
        const list = hitting(getComputedStyle(e, name), rules);
        if (list.length) pseudo[name] = list;
      }
    }
    steps.push({ mark: markOf(e), name: e.localName, rules: hitting(getComputedStyle(e), rules), pseudo, spots: touches(e) });
  }
  const style = getComputedStyle(at);
  return { steps, properties: Object.fromEntries(wanted.map((name) => [name, style.getPropertyValue(name)])) };
}
