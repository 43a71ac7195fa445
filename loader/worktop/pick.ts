// The origins of the part of a widget under the pointer.
import { touches } from "./touch";
import type { Part, Step } from "./types";

const markOf = (e: Element) => (e.hasAttribute("data-glass-part") ? Number(e.getAttribute("data-glass-part")) : null);
export const marker = (rule: number) => `--glass-rule-${rule}`;

// The properties that people look for first when they ask where something comes from.
const wanted = ["color", "background-color", "font-family", "font-size", "font-weight", "line-height", "margin", "padding", "border", "border-radius", "width", "height", "display", "gap"];

let registered = 0;
export function register(rules: number) {
  for (; registered < rules; registered++) {
    // Registered, so that elements do not inherit a rule's marker.
    try {
      CSS.registerProperty({ name: marker(registered), syntax: "*", inherits: false });
    } catch {
      // Already registered: the frame's window outlives its document.
    }
  }
}

function hitting(style: CSSStyleDeclaration, rules: number) {
  const list: number[] = [];
  for (let i = 0; i < rules; i++) if (style.getPropertyValue(marker(i))) list.push(i);
  return list;
}

// Everything that the worktop needs to know about an element and its ancestors.
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
