// How far the visitor has read, in the element that the page marks with data-glass-reading, or in
// the whole page.
import type { Pocket } from "./types";

export function reading(pocket: Pocket) {
  const { signal } = pocket;
  pocket.reading = (callback: (depth: number) => void) => {
    let last = -1;
    let asked = 0;
    function look() {
      asked = 0;
      const marked = document.querySelector("[data-glass-reading]");
      const page = document.scrollingElement || document.documentElement;
      let depth: number;
      if (marked) {
        const { top, height } = marked.getBoundingClientRect();
        depth = height > innerHeight ? -top / (height - innerHeight) : top + height <= innerHeight ? 1 : 0;
      } else {
        const room = page.scrollHeight - innerHeight;
        depth = room > 1 ? page.scrollTop / room : 1; // a page without scrolling is read
      }
      depth = Math.min(1, Math.max(0, depth));
      if (depth != last) callback((last = depth));
    }
    // At most once per frame.
    const ask = () => void (asked ||= requestAnimationFrame(look));
    addEventListener("scroll", ask, { signal, passive: true, capture: true });
    addEventListener("resize", ask, { signal });
    const grows = new ResizeObserver(ask);
    grows.observe(document.documentElement);
    if (document.body) grows.observe(document.body);
    signal.addEventListener("abort", () => (grows.disconnect(), cancelAnimationFrame(asked)));
    look();
  };
}
