// Keeps the numbers right. The view has drawn them as of the last publication; the
// first tick runs before the first paint, so a visitor never sees those.

interface Pocket {
  root: HTMLElement;
  settings: { target: { at: number }; ending: string };
  say(key: string, count?: number): string;
  now(): number; // milliseconds since 1970
  hide(hidden: boolean): void;
  signal: AbortSignal;
}

const seconds: Record<string, number> = { days: 86400, hours: 3600, minutes: 60, seconds: 1 };
const full: Record<string, number> = { days: 30, hours: 24, minutes: 60, seconds: 60 };

export default function mount({ root, settings, say, now, hide, signal }: Pocket) {
  const box = root.querySelector<HTMLElement>(".countdown")!;
  const spoken = root.querySelector<HTMLElement>(".spoken")!;
  const units = [...root.querySelectorAll<HTMLElement>("[data-unit]")].map((element) => ({ element, name: element.dataset.unit!, part: "" }));
  let timer = 0;

  function tick() {
    clearTimeout(timer);
    const milliseconds = settings.target.at - now();
    const over = milliseconds <= 0;
    const values: number[] = [];
    let left = Math.max(0, Math.ceil(milliseconds / 1000));
    let speak = over;
    units.forEach((unit, i) => {
      const value = Math.floor(left / seconds[unit.name]);
      left %= seconds[unit.name];
      values.push(value);
      const [digits, label] = unit.element.children;
      // Where the digits are right the name below them is right too.
      if (write(digits, String(value).padStart(i ? 2 : 1, "0"))) {
        write(label, say(unit.name, value));
        speak ||= unit.name != "seconds";
      }
      const part = String(Math.min(1, value / full[unit.name]));
      if (part != unit.part && root.dataset.layout == "dials") unit.element.style.setProperty("--part", (unit.part = part));
    });
    // A screen reader that moves here hears the time left; it is rewritten when more than
    // the seconds changed, and role="timer" announces nothing by itself.
    if (speak) write(spoken, units.map((unit, i) => values[i] + " " + say(unit.name, values[i])).join(", "));
    if ((box.dataset.state == "over") != over) box.dataset.state = over ? "over" : "running";
    hide(over && settings.ending == "hide");
    // A page may stay open past a moment, but not past the largest delay: at most a second.
    if (!over) timer = setTimeout(tick, milliseconds % 1000 || 1000);
  }

  tick();
  // A background tab's timers sleep; look at the clock as soon as it is seen again.
  document.addEventListener("visibilitychange", tick, { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}

function write(at: Element, text: string) {
  if (at.textContent == text) return false;
  at.textContent = text;
  return true;
}
