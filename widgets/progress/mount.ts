import type { Pocket } from "./pocket";

// Follows how far the visitor has read. The stylesheet draws it.
export default function mount({ root, settings, say, reading, edges }: Pocket) {
  const bar = root.querySelector<HTMLElement>(".progress")!;
  const percent = root.querySelector(".percent");

  // In the top layer, transforms and clipping around the mount point do not affect it.
  if (bar.showPopover) {
    bar.popover = "manual";
    bar.showPopover();
  }
  if (settings.bars) {
    edges(({ top, bottom }) => {
      root.style.setProperty("--clear-top", top + "px");
      root.style.setProperty("--clear-bottom", bottom + "px");
    });
  }
  reading((depth) => {
    const whole = Math.round(depth * 100);
    root.style.setProperty("--depth", depth.toFixed(4));
    bar.setAttribute("aria-valuenow", String(whole));
    if (percent) percent.textContent = say("percent", whole);
  });
}
