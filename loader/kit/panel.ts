// A modal dialog of the view. The browser keeps the focus in it, closes it with Escape or with the
// back gesture of a phone, and makes the rest of the page inert (HTML, section 4.11.4).
import type { Pocket } from "./types";

export function panel(pocket: Pocket) {
  pocket.panel = (box: HTMLDialogElement, closed?: () => void) => {
    let before: HTMLElement | null = null;
    box.addEventListener("click", (event) => {
      // On the backdrop, or on a button that closes it.
      if (event.target == box ? outside(box, event) : (event.target as Element).closest("[data-close]")) box.close();
    });
    box.addEventListener("close", () => {
      if (before?.isConnected) before.focus({ preventScroll: true });
      before = null;
      closed?.();
    });
    pocket.signal.addEventListener("abort", () => box.open && box.close());
    return {
      open(by?: HTMLElement) {
        if (box.open || pocket.signal.aborted) return;
        before = by || null;
        box.showModal();
        // To the dialog itself, so that its label is read first.
        box.tabIndex = -1;
        box.focus();
      },
      close: () => box.close(),
    };
  };
}

function outside(box: HTMLElement, { clientX: x, clientY: y }: MouseEvent) {
  const { left, right, top, bottom } = box.getBoundingClientRect();
  return x < left || x > right || y < top || y > bottom;
}
