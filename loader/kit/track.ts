// Paging through a track that scrolls sideways and snaps. Touch and mouse work without a script.
// This adds the keyboard, and reports the position: the nearest card, and whether the track is at
// its start or end.
export function follow(track: HTMLElement, rtl: boolean, signal: AbortSignal, tell: (here: number, first: boolean, last: boolean) => void) {
  const cards = track.children as HTMLCollectionOf<HTMLElement>;
  let nearest = 0; // the card closest to the resting position
  let goal = -1; // the target card of a smooth scroll, -1 for none
  let asked = 0;

  const room = () => track.scrollWidth - track.clientWidth;
  const gone = () => Math.abs(track.scrollLeft);
  const centred = () => getComputedStyle(cards[0]).scrollSnapAlign.indexOf("center") >= 0;

  // Distance of a card from the resting position, positive for later cards.
  function away(card: HTMLElement) {
    const box = track.getBoundingClientRect();
    const at = card.getBoundingClientRect();
    if (centred()) return ((at.left + at.right - box.left - box.right) / 2) * (rtl ? -1 : 1);
    const rest = parseFloat(getComputedStyle(track).scrollPaddingInlineStart) || 0;
    return rtl ? box.right - at.right - rest : at.left - box.left - rest;
  }

  // Scroll position with a card at rest.
  const stop = (i: number) => Math.max(0, Math.min(room(), gone() + away(cards[i])));

  function look() {
    cancelAnimationFrame(asked);
    asked = 0;
    let least = Infinity;
    for (let i = 0; i < cards.length; i++) {
      const far = Math.abs(away(cards[i]));
      if (far < least - 1) {
        least = far;
        nearest = i;
      }
    }
    // Not every engine has scrollend.
    if (goal >= 0 && Math.abs(gone() - stop(goal)) < 2) goal = -1;
    const middle = cards.length > 0 && centred();
    const last = middle ? nearest == cards.length - 1 : gone() >= room() - 2;
    tell(last && room() > 2 ? cards.length - 1 : nearest, middle ? nearest == 0 : gone() <= 2, last);
  }

  function to(i: number) {
    goal = Math.max(0, Math.min(cards.length - 1, i));
    track.scrollTo({ left: stop(goal) * (rtl ? -1 : 1) });
  }

  // A step counts from the target, so that quick steps add up. The last cards may all be visible at
  // once and rest in the same position, so a step goes to the first card that moves the track.
  function by(n: 1 | -1) {
    const at = goal < 0 ? gone() : stop(goal);
    let i = (goal < 0 ? nearest : goal) + n;
    while (cards[i] && cards[i + n] && Math.abs(stop(i) - at) < 2) i += n;
    to(i);
  }

  const ask = () => void (asked ||= requestAnimationFrame(look));
  const rest = () => void (goal = -1);
  // A scroll that a newer one replaces ends too, so check that the position is stable.
  const still = (at = gone()) => void setTimeout(() => gone() == at && rest(), 100);
  track.addEventListener("scroll", ask, { passive: true });
  // Scrolling by hand cancels the target.
  for (const name of ["wheel", "pointerdown", "touchstart"]) track.addEventListener(name, rest, { passive: true });
  track.addEventListener("scrollend", () => still());
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
  ask(); // in the next frame, which lays out the page anyway, and still before the first paint
  return { by, to, look };
}
