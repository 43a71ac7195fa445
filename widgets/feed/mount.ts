import type { Pocket } from "./pocket";

export default function mount(pocket: Pocket) {
  const { root, settings, say, ago, carousel, fold, panel, photos, more } = pocket;
  const list = root.querySelector<HTMLElement>(".list");
  if (!list) return;
  const posts = list.children as HTMLCollectionOf<HTMLElement>;
  ago();
  const large = root.querySelector<HTMLDialogElement>(".large");
  if (large) photos(large);

  const shorten = settings.shorten ? fold({ text: ".words", button: ".whole", more: say("whole"), less: say("part") }) : undefined;
  shorten?.(posts);

  // A video loads from its own server only when a visitor asks for it.
  root.addEventListener("click", (event) => {
    const link = (event.target as Element).closest<HTMLAnchorElement>(".video");
    if (!link) return;
    event.preventDefault();
    const video = document.createElement("video");
    const poster = link.querySelector("img")!;
    video.className = "shot";
    video.controls = video.autoplay = video.playsInline = true;
    video.src = link.href;
    video.poster = poster.currentSrc;
    video.width = poster.width;
    video.height = poster.height;
    video.addEventListener("error", () => open(link.href, "_blank", "noopener"), { once: true });
    link.replaceWith(video);
    video.focus();
  });

  const box = root.querySelector<HTMLDialogElement>(".panel");
  if (box) {
    const inside = box.querySelector(".inside")!;
    const shown = panel(box, () => inside.replaceChildren());
    root.addEventListener("click", (event) => {
      const by = (event.target as Element).closest<HTMLElement>("[data-open]");
      const post = by?.closest(".post");
      if (!post) return;
      const copy = post.cloneNode(true) as HTMLElement;
      copy.querySelector("[data-open]")!.remove();
      copy.querySelector(".whole")?.remove();
      copy.dataset.fold = "open";
      for (const image of copy.querySelectorAll("img")) image.sizes = "(max-width: 700px) 100vw, 640px";
      inside.replaceChildren(copy);
      shown.open(by!);
    });
  }

  const next = root.querySelector<HTMLAnchorElement>(".next");
  let left = Number(next?.dataset.left || 0);
  let load = () => undefined as Promise<void> | undefined;
  if (next) {
    load = more({
      link: next,
      list,
      failed: say("failed"),
      added(fresh, rest) {
        left = rest;
        next.textContent = say("more", Math.min(rest, fresh.length));
        ago();
        shorten?.(fresh);
      },
    });
  }
  if (settings.layout != "slider") return;
  if (next) next.style.display = "none"; // the track loads them in time
  const play = root.querySelector<HTMLButtonElement>(".controls .play")!;
  const place = root.querySelector(".place")!;
  const paging = carousel(list, {
    bar: root.querySelector<HTMLElement>(".controls")!,
    back: root.querySelector<HTMLButtonElement>(".controls .back")!,
    on: root.querySelector<HTMLButtonElement>(".controls .on")!,
    play,
    every: settings.plays ? settings.pause!.seconds : 0,
    moved(here) {
      place.textContent = say("place", here + 1).replace("{of}", String(posts.length + left));
      if (here > posts.length - 5) load()?.then(() => paging.look());
    },
    paused: (paused) => (play.firstElementChild!.textContent = say(paused ? "playName" : "pauseName")),
  });
}
