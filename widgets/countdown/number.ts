// A number that runs from a first to a last value.
import type { Pocket } from "./pocket";
import { write } from "./write";

export function count({ root, settings, language }: Pocket) {
  const { from = 0, to = 0, decimals = 0 } = settings;
  const digits = root.querySelector<HTMLElement>(".digits")!;
  const unit = 10 ** -decimals;
  const distance = Math.abs(to - from);
  const format = new Intl.NumberFormat(language + "-u-nu-latn", { minimumFractionDigits: decimals, maximumFractionDigits: decimals });
  const still = matchMedia("(prefers-reduced-motion: reduce)");
  let shown = "";
  let beside = 0;
  for (const e of root.querySelectorAll(".beside")) beside += e.textContent!.length;
  root.style.setProperty("--chars", String(Math.max(format.format(from).length, format.format(to).length) + beside / 2 + 1));

  return (now: number, begins: number, ends: number) => {
    const part = now >= ends || ends <= begins ? 1 : Math.max(0, (now - begins) / (ends - begins));
    // Rounded towards the first value, so that the last one never shows early.
    const steps = Math.floor((distance * part) / unit + 1e-6);
    write(digits, format.format(part < 1 ? from + Math.sign(to - from) * steps * unit : to));
    const ring = part.toFixed(3);
    if (ring != shown) root.style.setProperty("--part", (shown = ring));
    // Until the next step, but not faster than people can read, and slowly with reduced motion.
    const each = ((ends - begins) * unit) / distance;
    return Math.max(each, still.matches ? 1000 : 60);
  };
}
