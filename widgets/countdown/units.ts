// The time left in days, hours, minutes and seconds. A day is 24 hours: the result is a length of
// time, so a change of clocks in between does not affect it.
import type { Message, Pocket } from "./pocket";
import { write } from "./write";

const seconds: Record<string, number> = { days: 86400, hours: 3600, minutes: 60, seconds: 1 };
const full: Record<string, number> = { days: 30, hours: 24, minutes: 60, seconds: 60 };

export function units({ root, say }: Pocket) {
  const spoken = root.querySelector<HTMLElement>(".spoken")!;
  // Plain loops, because pages include old shims that change methods of arrays.
  const list: { element: HTMLElement; name: Message; value: number; part: string }[] = [];
  for (const element of root.querySelectorAll<HTMLElement>("[data-unit]")) list.push({ element, name: element.dataset.unit as Message, value: 0, part: "" });

  return (now: number, _: number, ends: number) => {
    const milliseconds = ends - now;
    let left = Math.max(0, Math.ceil(milliseconds / 1000));
    let speak = milliseconds <= 0;
    let first = true;
    for (const unit of list) {
      unit.value = Math.floor(left / seconds[unit.name]);
      left %= seconds[unit.name];
      const [digits, label] = unit.element.children;
      // If the digits are unchanged, so is the label.
      if (write(digits, String(unit.value).padStart(first ? 1 : 2, "0"))) {
        write(label, say(unit.name, unit.value));
        speak ||= unit.name != "seconds";
      }
      first = false;
      const part = String(Math.min(1, unit.value / full[unit.name]));
      if (part != unit.part && root.dataset.layout == "dials") unit.element.style.setProperty("--part", (unit.part = part));
    }
    // Screen readers read the time left here. It changes when more than the seconds changed, and
    // role="timer" announces nothing by itself.
    if (speak) {
      let words = "";
      for (const { name, value } of list) words += (words && say("between")) + value + " " + say(name, value);
      write(spoken, words);
    }
    return milliseconds % 1000 || 1000;
  };
}
