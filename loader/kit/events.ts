// Between a widget, the page, and the other copies of its pocket. The widget tells: an event
// glass-pocket:NAME at its mount point. It hears such an event when the page sends it there,
// or when another copy tells; and a click on an element of the page that bears
// data-glass-NAME="KEY".
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
      { signal, capture: true }, // hears what does not bubble too
    );
    document.addEventListener(
      "click",
      (event) => {
        const by = (event.target as Element).closest?.(`[data-glass-${name}]`);
        if (!by || by.getAttribute("data-glass-" + name) != key) return;
        event.preventDefault(); // a link that opens stays a link where no script runs
        callback(by);
      },
      { signal },
    );
  };
}
