import type { Pocket } from "./pocket";

// The card opens without a script. This only ensures that one of the pocket's cards on a page is
// open at a time.
export default function mount({ root, settings, tell, hear, signal }: Pocket) {
  const more = root.querySelector("details");
  if (!more || !settings.lone) return;
  // Not with the toggle event, which is late on a busy page: the card opened first would then close
  // the one opened later.
  const watch = new MutationObserver(() => more.open && tell("opened"));
  watch.observe(more, { attributeFilter: ["open"] });
  signal.addEventListener("abort", () => watch.disconnect());
  hear("opened", () => (more.open = false));
}
