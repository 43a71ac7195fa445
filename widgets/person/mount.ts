import type { Pocket } from "./pocket";

// The card opens by itself, without a script. This only sees to it that of several cards of
// the pocket on a page one is open at a time.
export default function mount({ root, settings, tell, hear, signal }: Pocket) {
  const more = root.querySelector("details");
  if (!more || !settings.lone) return;
  // Not by the toggle event, which comes late when the page is busy: the one that was opened
  // before would then close the one that has been opened since.
  const watch = new MutationObserver(() => more.open && tell("opened"));
  watch.observe(more, { attributeFilter: ["open"] });
  signal.addEventListener("abort", () => watch.disconnect());
  hear("opened", () => (more.open = false));
}
