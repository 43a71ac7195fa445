import { leaf } from "./leaf";
import { clamp } from "./clamp";
import { slices } from "./slices";
import type { Pocket } from "./pocket";

export default function mount({ root, settings, say, signal }: Pocket) {
  const track = root.querySelector<HTMLElement>(".track");
  if (!track) return;
  const reviews = track.children as HTMLCollectionOf<HTMLElement>;
  const paged = settings.layout == "carousel" || settings.layout == "single";
  const shown = paged ? reviews.length : (settings.shown ?? reviews.length);
  for (let i = shown; i < reviews.length; i++) reviews[i].hidden = true;
  const looks: (() => void)[] = []; // what measures when all is laid out
  const summary = root.querySelectorAll<HTMLElement>(".heading, .sum, .spread");
  slices(root, [...summary, ...[...reviews].slice(0, shown)], signal, () => looks.forEach((look) => look()));
  if (settings.shorten) looks.push(clamp(root, say("whole"), say("part"), signal));

  if (!paged) {
    // A button shows the others.
    const all = root.querySelector<HTMLButtonElement>(".all")!;
    if (reviews.length <= shown) return;
    all.hidden = false;
    all.textContent = say("all", reviews.length - shown);
    all.addEventListener("click", () => {
      for (const review of reviews) review.hidden = false;
      all.hidden = true;
      // Focuses the first of the new ones.
      reviews[shown].tabIndex = -1;
      reviews[shown].focus();
    });
    return;
  }

  const controls = root.querySelector<HTMLElement>(".controls")!;
  const back = root.querySelector<HTMLButtonElement>(".back")!;
  const on = root.querySelector<HTMLButtonElement>(".on")!;
  const play = root.querySelector<HTMLButtonElement>(".play")!;
  const place = root.querySelector(".place")!;
  const leaves = leaf(track, root.dir == "rtl", signal, (here, first, last) => {
    controls.hidden = first && last;
    const focused = (root.getRootNode() as ShadowRoot).activeElement;
    back.disabled = first;
    on.disabled = last;
    if (focused == back && first) on.focus();
    if (focused == on && last) back.focus();
    place.textContent = say("place", here + 1).replace("{of}", String(reviews.length));
  });
  looks.push(leaves.look);
  back.addEventListener("click", () => leaves.by(-1));
  on.addEventListener("click", () => leaves.by(1));

  // Moves automatically while nobody interacts.
  const still = matchMedia("(prefers-reduced-motion: reduce)");
  if (!settings.plays || still.matches || reviews.length < 2) return;
  let busy = false;
  let paused = false;
  play.hidden = false;
  play.addEventListener("click", () => {
    paused = !paused;
    play.dataset.paused = String(paused);
    play.firstElementChild!.textContent = say(paused ? "playName" : "pauseName");
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
