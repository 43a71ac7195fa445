import type { Pocket } from "./pocket";

// The card opens by itself, without a script. This only sees to it that of several cards of
// the pocket on a page one is open at a time.
export default function mount({ root, settings, tell, hear }: Pocket) {
  const more = root.querySelector("details");
  if (!more || !settings.lone) return;
  more.addEventListener("toggle", () => {
    if (more.open) tell("opened");
  });
  hear("opened", () => (more.open = false));
}
