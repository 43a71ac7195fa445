// Between widget and page. The widget tells: an event glass-pocket:NAME at its mount point.
// The page asks: the same kind of event sent there, or a click on an element of the page
// that bears data-glass-NAME="KEY".
import { hostOf, type Pocket, type Table } from "./types";

export function events(pocket: Pocket, { key }: Table) {
  const host = hostOf(pocket);
  const { signal } = pocket;
  pocket.tell = (name: string, detail?: unknown) => host.dispatchEvent(new CustomEvent("glass-pocket:" + name, { detail, bubbles: true, composed: true }));
  pocket.hear = (name: string, callback: (by?: Element) => void) => {
    host.addEventListener("glass-pocket:" + name, () => callback(), { signal });
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
