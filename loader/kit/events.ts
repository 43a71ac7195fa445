// Messages between a widget, the page, and the other copies of its pocket. The widget dispatches an
// event glass-pocket:NAME at its mount point. It receives such an event when the page dispatches it
// there, or when another copy does; a click on an element of the page with data-glass-NAME="KEY"
// counts too.
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: { live: Map<Element, { key: string }> };

export function events(pocket: Pocket, { key }: Table) {
  const host = hostOf(pocket);
  const { signal } = pocket;
  const told = new WeakSet<Event>();
  pocket.tell = (name: string, detail?: unknown) => {
    const event = new CustomEvent("glass-pocket:" + name, { detail, bubbles: true, composed: true });
    told.add(event);
    host.dispatchEvent(event);
  };
  pocket.hear = (name: string, callback: (by?: Element) => void) => {
    document.addEventListener(
      "glass-pocket:" + name,
      (event) => {
        const at = event.target as Element;
        if (!told.has(event) && (at == host || glassPocket.live.get(at)?.key == glassPocket.live.get(host)?.key)) callback();
      },
      { signal, capture: true }, // also receives events that do not bubble
    );
    document.addEventListener(
      "click",
      (event) => {
        const by = (event.target as Element).closest?.(`[data-glass-${name}]`);
        if (!by || by.getAttribute("data-glass-" + name) != key) return;
        event.preventDefault(); // where no script runs, the link still works as a link
        callback(by);
      },
      { signal },
    );
  };
}
