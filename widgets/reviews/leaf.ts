// Leafing through a track that scrolls sideways and snaps: touch and mouse scroll it by
// themselves, this adds the keyboard and tells which card is where.
export function leaf(track: HTMLElement, rtl: boolean, signal: AbortSignal, tell: (here: number, first: boolean, last: boolean) => void) {
  const cards = track.children as HTMLCollectionOf<HTMLElement>;
  let here = 0;
  let asked = 0;

  // How far a card's beginning is from where cards come to rest.
  function away(card: HTMLElement) {
    const box = track.getBoundingClientRect();
    const at = card.getBoundingClientRect();
    if (getComputedStyle(card).scrollSnapAlign.indexOf("center") >= 0) return (at.left + at.right - box.left - box.right) / 2;
    const rest = parseFloat(getComputedStyle(track).scrollPaddingInlineStart) || 0;
    return rtl ? at.right - box.right + rest : at.left - box.left - rest;
  }

  function look() {
    asked = 0;
    const room = track.scrollWidth - track.clientWidth;
    const gone = Math.abs(track.scrollLeft);
    let nearest = Infinity;
    here = 0;
    for (let i = 0; i < cards.length; i++) {
      const far = Math.abs(away(cards[i]));
      if (far < nearest - 1) {
        nearest = far;
        here = i;
      }
    }
    const centred = cards.length > 0 && getComputedStyle(cards[0]).scrollSnapAlign.indexOf("center") >= 0;
    const last = centred ? here == cards.length - 1 : gone >= room - 2;
    if (last && room > 2) here = cards.length - 1;
    tell(here, centred ? here == 0 : gone <= 2, last);
  }

  const ask = () => void (asked ||= requestAnimationFrame(look));
  const to = (i: number) => track.scrollBy({ left: away(cards[Math.max(0, Math.min(cards.length - 1, i))]) });
  const by = (n: number) => to(here + n);
  track.addEventListener("scroll", ask, { passive: true });
  track.addEventListener("keydown", (event) => {
    if (event.target != track) return;
    const steps: Record<string, () => void> = { ArrowLeft: () => by(rtl ? 1 : -1), ArrowRight: () => by(rtl ? -1 : 1), Home: () => to(0), End: () => to(cards.length - 1) };
    const step = steps[event.key];
    if (step) {
      event.preventDefault();
      step();
    }
  });
  const sizes = new ResizeObserver(ask);
  sizes.observe(track);
  signal.addEventListener("abort", () => {
    sizes.disconnect();
    cancelAnimationFrame(asked);
  });
  look();
  return { by, to };
}
