// Relative times such as "2 hours ago" in every <time data-ago>. The service writes the date, which
// stays where no script runs, for anything older than a week, and for times in the future.
import type { Pocket, Relative, Table } from "./types";

const second = 1e3;
const minute = 60 * second;
const hour = 60 * minute;
const day = 24 * hour;

export function ago(pocket: Pocket, { ago }: Table) {
  const { root, language, signal } = pocket;
  const words: Relative | undefined = ago?.[language];
  const now = pocket.now as () => number;
  const dates = new WeakMap<Element, string>(); // as the service has written them
  let timer = 0;

  function write() {
    clearTimeout(timer);
    let next = Infinity;
    for (const time of root.querySelectorAll<HTMLTimeElement>("time[data-ago]")) {
      if (!dates.has(time)) dates.set(time, time.textContent!);
      const date = dates.get(time)!;
      const age = now() - Date.parse(time.dateTime);
      let text = date;
      // Clocks differ by some seconds: a little in the future is now.
      if (words && age > -minute && age < 7 * day) {
        const [unit, size] = age < hour ? (["minute", minute] as const) : age < day ? (["hour", hour] as const) : (["day", day] as const);
        const n = Math.floor(age / size);
        text = n < 1 ? words.now : n == 1 && unit == "day" ? words.yesterday : words[unit][+words.form[n - 1]].replace("#", n + "");
        next = Math.min(next, size - (age < 0 ? age : age % size));
      } else if (age < 0) next = Math.min(next, -age);
      if (time.textContent != text) time.textContent = text;
      time.title = text == date ? "" : date;
    }
    // At the next change, but at most after an hour, because timers sleep with the computer.
    timer = setTimeout(write, Math.min(next, hour) + 20);
  }

  pocket.ago = write;
  document.addEventListener("visibilitychange", () => document.hidden || write(), { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}
