// How much of the window's top and bottom the page's own bars cover: fixed or sticky elements
// there, as wide as most of the window.
import { hostOf, type Pocket } from "./types";

export function edges(pocket: Pocket) {
  const host = hostOf(pocket);
  const { signal } = pocket;

  function bar(y: number) {
    for (const found of document.elementsFromPoint(innerWidth / 2, y)) {
      for (let at: Element | null = found; at && at != document.documentElement; at = at.parentElement) {
        if (at == host || host.contains(at)) break;
        const { position } = getComputedStyle(at);
        if (position != "fixed" && position != "sticky") continue;
        const box = at.getBoundingClientRect();
        // An overlay over the whole window is not a bar.
        if (box.width >= innerWidth / 2 && box.height < innerHeight / 2) return box;
      }
    }
  }

  pocket.edges = (callback: (taken: { top: number; bottom: number }) => void) => {
    let last = "";
    let asked = 0;
    function look() {
      asked = 0;
      let top = 0;
      let bottom = 0;
      // There can be several bars below each other.
      for (let i = 0, box; i < 3 && (box = bar(top + 1)) && box.bottom > top; i++) top = Math.round(box.bottom);
      for (let i = 0, box; i < 3 && (box = bar(innerHeight - bottom - 1)) && innerHeight - box.top > bottom; i++) bottom = Math.round(innerHeight - box.top);
      const next = top + " " + bottom;
      if (next != last) callback({ top, bottom });
      last = next;
    }
    const ask = () => void (asked ||= requestAnimationFrame(look));
    addEventListener("scroll", ask, { signal, passive: true, capture: true });
    addEventListener("resize", ask, { signal });
    addEventListener("load", ask, { signal });
    document.addEventListener("transitionend", ask, { signal });
    signal.addEventListener("abort", () => cancelAnimationFrame(asked));
    look();
  };
}
