import { month } from "./month";
import type { Pocket } from "./pocket";
import { times } from "./times";

export default function mount(pocket: Pocket) {
  const { root, settings, say, now, exact, fold, more, signal } = pocket;
  const list = root.querySelector<HTMLElement>(".list");
  if (!list) return;
  const dates = list.children as HTMLCollectionOf<HTMLElement>;
  const next = root.querySelector<HTMLAnchorElement>(".next");
  const shorten = fold({ text: ".words", button: ".whole", more: say("whole"), less: say("part") });
  const write = times(pocket);
  const grid = settings.layout == "month" ? month(pocket, root.querySelector<HTMLElement>(".month")!, list) : undefined;
  let timer = 0;
  let asked = false;

  // Removes dates that are over, at the second, and labels those of today and tomorrow.
  function look() {
    clearTimeout(timer);
    let soonest = Infinity;
    for (const date of [...dates]) {
      const change = write(date, now());
      if (change == 0) {
        const focused = date.contains((root.getRootNode() as ShadowRoot).activeElement);
        date.remove();
        if (focused) list!.querySelector<HTMLElement>("a, button")?.focus({ preventScroll: true });
      } else soonest = Math.min(soonest, change);
    }
    if (!dates.length) {
      if (next && !next.hidden) load()?.then(look);
      else root.querySelector<HTMLElement>(".empty")!.hidden = false;
    }
    grid?.();
    // The service's clock, if something changes soon.
    if (soonest < 3600e3 && !asked) {
      asked = true;
      exact(look);
    }
    // Timers count in 32 bits, and sleep with the computer.
    timer = setTimeout(look, Math.min(soonest, 3600e3));
  }

  const load = next
    ? more({
        link: next,
        list,
        failed: say("failed"),
        added(fresh, left) {
          next.textContent = say("more", Math.min(left, fresh.length));
          look();
          shorten(fresh);
        },
      })
    : () => undefined;
  look();
  shorten(dates);
  document.addEventListener("visibilitychange", () => document.hidden || look(), { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}
