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
  const units = [...root.querySelectorAll<HTMLElement>("[data-unit]")];
  const spoken = root.querySelector<HTMLElement>(".spoken")!;
  let timer = 0;
  let spokenMinute = -1;

  function tick() {
    clearTimeout(timer);
    const milliseconds = settings.target.at - now();
    let left = Math.max(0, Math.ceil(milliseconds / 1000));
    // A screen reader that moves here hears the time left; it is rewritten once a minute,
    // not once a second, and role="timer" announces nothing by itself.
    const minute = Math.ceil(left / 60);
    const words: string[] = [];
    units.forEach((unit, i) => {
      const name = unit.dataset.unit!;
      const value = Math.floor(left / seconds[name]);
      left %= seconds[name];
      const [digits, label] = unit.children;
      write(digits, String(value).padStart(i ? 2 : 1, "0"));
      const said = say(name, value);
      write(label, said);
      unit.style.setProperty("--part", String(Math.min(1, value / full[name])));
      words.push(value + " " + said);
    });
    if (minute != spokenMinute) {
      spokenMinute = minute;
      write(spoken, words.join(", "));
    }
    const over = milliseconds <= 0;
    box.dataset.state = over ? "over" : "running";
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
  if (at.textContent != text) at.textContent = text;
}
