// Pointing: an outline follows what is pointed at, and a click tells what makes it.
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

export class Pointer {
  on = false;
  #frame = document.createElement("div");
  #roots: () => ShadowRoot[];
  #over: (at: Element | null) => void;
  #chosen: (at: Element) => void;

  constructor(roots: () => ShadowRoot[], over: (at: Element | null) => void, chosen: (at: Element) => void) {
    this.#roots = roots;
    this.#over = over;
    this.#chosen = chosen;
    // Above everything, popovers and dialogs too.
    this.#frame.popover = "manual";
    this.#frame.style.cssText =
      "position:fixed;inset:auto;margin:0;padding:0;border:2px solid #0b6b63;border-radius:4px;background:#0b6b6322;box-shadow:0 0 0 1px #ffffffcc;box-sizing:border-box;pointer-events:none;overflow:visible";
    document.documentElement.append(this.#frame);
    const find = (event: Event) => {
      const at = event.composedPath()[0];
      return at instanceof Element && this.#roots().some((r) => r.contains(at)) ? at : null;
    };
    addEventListener("pointermove", (event) => {
      if (!this.on) return;
      const at = find(event);
      this.outline(at);
      this.#over(at);
    });
    document.documentElement.addEventListener("pointerleave", () => {
      if (this.on) this.#over(null);
    });
    // A click chooses and does nothing else; what else a press would do is held back too.
    for (const kind of ["pointerdown", "mousedown", "pointerup", "mouseup", "click", "dblclick", "auxclick", "contextmenu", "submit"]) {
      addEventListener(
        kind,
        (event) => {
          if (!this.on) return;
          event.preventDefault();
          event.stopImmediatePropagation();
          if (kind == "click") {
            const at = find(event);
            if (at) this.#chosen(at);
          }
        },
        true,
      );
    }
  }

  // Draws the outline around an element, or takes it away.
  outline(at: Element | null) {
    const box = at?.getBoundingClientRect();
    if (!box || (!box.width && !box.height)) {
      this.#frame.matches(":popover-open") && this.#frame.hidePopover();
      return;
    }
    Object.assign(this.#frame.style, { left: `${box.left - 2}px`, top: `${box.top - 2}px`, width: `${box.width + 4}px`, height: `${box.height + 4}px` });
    // Shown anew, so that it lies above what has been opened since.
    if (this.#frame.matches(":popover-open")) this.#frame.hidePopover();
    this.#frame.showPopover();
  }
}
