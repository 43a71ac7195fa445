// The time left in days, hours, minutes and seconds. A day is 24 hours: what is left is a
// length of time, so a change of the clocks in between does not change it.
import { write } from "./write";

const seconds: Record<string, number> = { days: 86400, hours: 3600, minutes: 60, seconds: 1 };
const full: Record<string, number> = { days: 30, hours: 24, minutes: 60, seconds: 60 };

export function units({ root, say }: { root: HTMLElement; say(key: string, count?: number): string }) {
  const spoken = root.querySelector<HTMLElement>(".spoken")!;
  const list = [...root.querySelectorAll<HTMLElement>("[data-unit]")].map((element) => ({ element, name: element.dataset.unit!, part: "" }));

  return (now: number, _: number, ends: number) => {
    const milliseconds = ends - now;
    const values: number[] = [];
    let left = Math.max(0, Math.ceil(milliseconds / 1000));
    let speak = milliseconds <= 0;
    list.forEach((unit, i) => {
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
    if (speak) write(spoken, list.map((unit, i) => values[i] + " " + say(unit.name, values[i])).join(say("between")));
    return milliseconds % 1000 || 1000;
  };
}
