import type { Pocket } from "./pocket";

export default function mount({ root, settings, say, carousel }: Pocket) {
  const track = root.querySelector<HTMLElement>(".track");
  if (!track) return;
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
  carousel(track, {
    bar: root.querySelector<HTMLElement>(".controls")!,
    back: root.querySelector<HTMLButtonElement>(".back")!,
    on: root.querySelector<HTMLButtonElement>(".on")!,
    play,
    every: settings.plays ? settings.pause!.seconds : 0,
    moved(here) {
      for (let i = 0; i < cards.length; i++) cards[i].dataset.here = (dots.children[i] as HTMLElement).dataset.here = String(i == here);
      count.textContent = say("place", here + 1).replace("{of}", String(cards.length));
    },
    paused: (paused) => (play.firstElementChild!.textContent = say(paused ? "play" : "pause")),
  });
}
