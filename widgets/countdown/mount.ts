// Updates the numbers. The view shows those of the last publication. The first tick runs before the
// first paint, so a visitor never sees them.
import { count } from "./number";
import type { Pocket } from "./pocket";
import { span } from "./span";
import { units } from "./units";

export default function mount(pocket: Pocket) {
  const { root, settings, hide, signal } = pocket;
  const box = root.querySelector<HTMLElement>(".countdown")!;
  const period = span(pocket);
  const draw = settings.runs == "number" ? count(pocket) : units(pocket);
  let timer = 0;

  function tick() {
    clearTimeout(timer);
    const now = period.now();
    const { begins, ends } = period.at(now);
    const over = now >= ends;
    const wait = draw(now, begins, ends);
    if ((box.dataset.state == "over") != over) box.dataset.state = over ? "over" : "running";
    hide(over && settings.ending == "hide");
    // At most until the end, and at most a second, because the clock may be corrected, and a delay
    // has an upper limit.
    if (!over) timer = setTimeout(tick, Math.max(1, Math.min(wait, ends - now, 1000)));
  }

  tick();
  period.changed(tick);
  // A background tab's timers are throttled, and a page in the back/forward cache is suspended.
  // Both become visible again (HTML, "reactivate a document").
  document.addEventListener("visibilitychange", tick, { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}
