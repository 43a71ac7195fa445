// Keeps the numbers right. The view has drawn them as of the last publication; the
// first tick runs before the first paint, so a visitor never sees those.
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
    // Never longer than to the end, nor than a second: the clock may be set right, and a
    // page may stay open past a moment but not past the largest delay.
    if (!over) timer = setTimeout(tick, Math.max(1, Math.min(wait, ends - now, 1000)));
  }

  tick();
  period.changed(tick);
  // A background tab's timers sleep, and a page that is gone back to has slept altogether: it
  // comes into view again too (HTML, "reactivate a document").
  document.addEventListener("visibilitychange", tick, { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}
