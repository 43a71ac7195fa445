import type { Pocket } from "./pocket";

// Fills the belt with as many copies of the entries as fit in the window, plus one, and moves it by
// one copy at the chosen speed.
export default function mount({ root, settings, say, signal }: Pocket) {
  const box = root.querySelector<HTMLElement>(".ticker")!;
  const view = root.querySelector<HTMLElement>(".window")!;
  const belt = root.querySelector<HTMLElement>(".belt")!;
  const run = root.querySelector<HTMLElement>(".run")!;
  const pause = root.querySelector<HTMLButtonElement>(".pause")!;
  const still = matchMedia("(prefers-reduced-motion: reduce)");
  if (!run.children.length) return;

  // Copies are only visual: screen readers and keyboard users find each entry once.
  function copy() {
    const twin = run.cloneNode(true) as HTMLElement;
    twin.setAttribute("aria-hidden", "true");
    for (const link of twin.querySelectorAll("a")) link.tabIndex = -1;
    return twin;
  }

  function lay() {
    const width = run.getBoundingClientRect().width;
    const moves = !still.matches && width > 0;
    box.dataset.moves = String(moves);
    pause.hidden = !moves;
    const wanted = moves ? Math.min(30, Math.ceil(view.clientWidth / width) + 1) : 1;
    while (belt.children.length < wanted) belt.append(copy());
    while (belt.children.length > wanted) belt.lastChild!.remove();
    if (!moves) return;
    view.scrollLeft = 0;
    const rtl = root.dir == "rtl";
    box.style.setProperty("--shift", (rtl ? width : -width) + "px");
    box.style.setProperty("--time", width / settings.speed + "s");
    box.dataset.way = settings.way;
  }

  function name(paused: boolean) {
    box.dataset.paused = String(paused);
    pause.firstElementChild!.textContent = say(paused ? "play" : "pause");
  }

  pause.addEventListener("click", () => name(box.dataset.paused != "true"));
  // After pausing with the keyboard, it must stay paused when the focus moves.
  pause.addEventListener("pointerdown", (event) => event.preventDefault());
  still.addEventListener("change", lay, { signal });
  const sizes = new ResizeObserver(lay);
  sizes.observe(view);
  sizes.observe(run);
  signal.addEventListener("abort", () => sizes.disconnect());
  lay();
}
