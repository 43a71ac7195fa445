import { slices } from "./slices";
import { structured } from "./structured";
import type { Pocket } from "./pocket";

export default function mount(pocket: Pocket) {
  const { root, settings, say, signal, carousel, fold, ago, panel, photos, more } = pocket;
  const section = root.querySelector<HTMLElement>(".reviews")!;
  if (section.dataset.count) structured(section, settings, signal);
  const note = root.querySelector<HTMLElement>(".note");
  const large = root.querySelector<HTMLDialogElement>(".large");
  const track = root.querySelector<HTMLElement>(".track");
  const looks: (() => void)[] = []; // what measures when all is laid out
  ago();
  if (large) photos(large);
  if (note) {
    const open = panel(root.querySelector<HTMLDialogElement>(".panel")!);
    note.addEventListener("click", () => open.open(note));
  }
  if (!track) return;
  const reviews = track.children as HTMLCollectionOf<HTMLElement>;
  const summary = root.querySelectorAll<HTMLElement>(".heading, .sum, .spread");
  if (!note) slices(root, [...summary, ...reviews], signal, () => looks.forEach((look) => look()));
  const shorten = settings.shorten ? fold({ text: ".words", button: ".whole", more: say("whole"), less: say("part") }) : undefined;
  shorten?.(reviews);

  const next = root.querySelector<HTMLAnchorElement>(".next");
  let left = 0;
  let load = () => undefined as Promise<void> | undefined;
  if (next) {
    load = more({
      link: next,
      list: track,
      failed: say("failed"),
      added(fresh, rest) {
        left = rest;
        next.textContent = say("all", Math.min(rest, fresh.length));
        ago();
        shorten?.(fresh);
      },
    });
  }
  if (settings.layout != "carousel" && settings.layout != "single") return;

  const play = root.querySelector<HTMLButtonElement>(".play")!;
  const place = root.querySelector(".place")!;
  const of = () => String(reviews.length + (next && !next.hidden ? left || Number(next.dataset.left) : 0));
  if (next) next.style.display = "none"; // the track loads them in time
  const paging = carousel(track, {
    bar: root.querySelector<HTMLElement>(".controls")!,
    back: root.querySelector<HTMLButtonElement>(".controls .back")!,
    on: root.querySelector<HTMLButtonElement>(".controls .on")!,
    play,
    every: settings.plays ? settings.pause!.seconds : 0,
    moved(here) {
      place.textContent = say("place", here + 1).replace("{of}", of());
      if (here > reviews.length - 5) load()?.then(() => paging.look());
    },
    paused: (paused) => (play.firstElementChild!.textContent = say(paused ? "playName" : "pauseName")),
  });
  looks.push(paging.look);
}
