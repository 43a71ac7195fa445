import { leaf } from "./leaf";
import type { Pocket } from "./pocket";

export default function mount({ root, settings, say, signal }: Pocket) {
  const track = root.querySelector<HTMLElement>(".track");
  if (!track) return;
  const controls = root.querySelector<HTMLElement>(".controls")!;
  const back = root.querySelector<HTMLButtonElement>(".back")!;
  const on = root.querySelector<HTMLButtonElement>(".on")!;
  const play = root.querySelector<HTMLButtonElement>(".play")!;
  const count = root.querySelector(".count")!;
  const dots = root.querySelector(".dots")!;
  const cards = track.children as HTMLCollectionOf<HTMLElement>;
  for (let i = 0; i < cards.length; i++) {
    const dot = document.createElement("span");
    dot.className = "dot";
    dots.append(dot);
    cards[i].style.setProperty("--i", String(i));
  }

  const leaves = leaf(track, root.dir == "rtl", signal, (here, first, last) => {
    for (let i = 0; i < cards.length; i++) {
      cards[i].dataset.here = (dots.children[i] as HTMLElement).dataset.here = String(i == here);
    }
    // If all cards fit, no controls are needed.
    controls.hidden = first && last;
    const focused = (root.getRootNode() as ShadowRoot).activeElement;
    back.disabled = first;
    on.disabled = last;
    // If a button is disabled, move its focus to the other one.
    if (focused == back && first) on.focus();
    if (focused == on && last) back.focus();
    count.textContent = say("place", here + 1).replace("{of}", String(cards.length));
  });
  back.addEventListener("click", () => leaves.by(-1));
  on.addEventListener("click", () => leaves.by(1));

  // Moves automatically while nobody interacts.
  const still = matchMedia("(prefers-reduced-motion: reduce)");
  if (!settings.plays || still.matches || cards.length < 2) return;
  let busy = false;
  let paused = false;
  play.hidden = false;
  play.addEventListener("click", () => {
    paused = !paused;
    play.dataset.paused = String(paused);
    play.firstElementChild!.textContent = say(paused ? "play" : "pause");
  });
  for (const name of ["pointerenter", "focusin"]) root.addEventListener(name, () => (busy = true));
  for (const name of ["pointerleave", "focusout"]) root.addEventListener(name, () => (busy = false));
  const timer = setInterval(() => {
    if (busy || paused || still.matches || document.hidden) return;
    if (on.disabled) leaves.to(0);
    else leaves.by(1);
  }, settings.pause!.seconds * 1000);
  signal.addEventListener("abort", () => clearInterval(timer));
}
