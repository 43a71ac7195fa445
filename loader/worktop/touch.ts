// Records which lines of the script find, change or listen to which element. Only in the worktop's
// frame, where nothing else runs.
import { spots } from "./spots";
import type { Spot } from "./types";

interface Touched {
  unread: Error[]; // reading a stack trace takes far longer than storing it, and few are needed
  places: Map<string, Spot>;
}

const touched = new WeakMap<Node, Touched>();
const most = 40; // places for one element
const unreadMost = 64;
let watching = false;

export function touches(node: Node): Spot[] {
  const of = touched.get(node);
  return of ? [...read(of).values()] : [];
}

function read({ unread, places }: Touched) {
  for (const { stack } of unread.splice(0)) {
    const spot = spots(stack)[0];
    if (spot && places.size < most) places.set(spot.join(":"), spot);
  }
  return places;
}

function note(nodes: Iterable<unknown>) {
  if (!watching) return;
  let here: Error | undefined;
  for (const node of nodes) {
    if (!(node instanceof Element)) continue;
    let of = touched.get(node);
    if (!of) touched.set(node, (of = { unread: [], places: new Map() }));
    if (of.places.size >= most) continue;
    of.unread.push((here ??= new Error()));
    if (of.unread.length >= unreadMost) read(of);
  }
}

// Wraps the methods with which a script finds, changes and listens to elements.
export function watch() {
  const method = (owner: object, name: string, of: (self: unknown, args: unknown[], out: unknown) => Iterable<unknown>) => {
    const was = (owner as any)[name];
    if (typeof was != "function") return;
    (owner as any)[name] = function (this: unknown, ...args: unknown[]) {
      const out = was.apply(this, args);
      note(of(this, args, out));
      return out;
    };
  };
  const property = (owner: object, name: string) => {
    const is = Object.getOwnPropertyDescriptor(owner, name);
    if (!is?.configurable || !is.get) return;
    const change: PropertyDescriptor = { ...is };
    if (is.set) {
      change.set = function (this: unknown, value: unknown) {
        is.set!.call(this, value);
        note([this]);
      };
    }
    // The returned object can be changed without our wrappers.
    if (["style", "classList", "dataset"].includes(name)) {
      change.get = function (this: unknown) {
        note([this]);
        return is.get!.call(this);
      };
    }
    Object.defineProperty(owner, name, change);
  };
  const self = (me: unknown) => [me];
  const found = (_: unknown, __: unknown, out: unknown) => (out instanceof Element ? [out] : ((out ?? []) as Iterable<unknown>));
  for (const owner of [Element.prototype, DocumentFragment.prototype, Document.prototype]) {
    for (const name of ["querySelector", "querySelectorAll", "getElementById"]) method(owner, name, found);
  }
  for (const name of ["setAttribute", "removeAttribute", "toggleAttribute", "animate", "insertAdjacentHTML", "insertAdjacentElement", "scrollIntoView", "scrollTo", "scrollBy"]) method(Element.prototype, name, self);
  for (const name of ["append", "prepend", "replaceChildren", "before", "after", "replaceWith"]) method(Element.prototype, name, (me, args) => [me, ...args]);
  for (const name of ["appendChild", "insertBefore", "replaceChild", "removeChild"]) method(Node.prototype, name, (me, args) => [me, ...args]);
  for (const name of ["focus", "showModal", "show", "close"]) method(HTMLElement.prototype, name, self);
  method(Element.prototype, "closest", found);
  method(EventTarget.prototype, "addEventListener", self);
  property(Node.prototype, "textContent");
  property(Element.prototype, "innerHTML");
  property(Element.prototype, "className");
  property(Element.prototype, "classList");
  for (const name of ["hidden", "innerText", "style", "dataset", "tabIndex", "title"]) property(HTMLElement.prototype, name);
  for (const [owner, names] of [
    [HTMLDetailsElement.prototype, ["open"]],
    [HTMLInputElement.prototype, ["value", "checked"]],
    [HTMLButtonElement.prototype, ["disabled"]],
    [HTMLImageElement.prototype, ["src"]],
  ] as const) {
    for (const name of names) property(owner, name);
  }
  watching = true;
}
