import type { Pocket } from "./pocket";

export default function mount({ root, settings, say, ago, more, carousel, memory, now, exact, hide, signal }: Pocket) {
  const list = root.querySelector<HTMLElement>(".list");
  if (!list) return void hide(!!settings.gone);
  const notices = list.children as HTMLCollectionOf<HTMLElement>;
  const next = root.querySelector<HTMLAnchorElement>(".next");
  const closed = () => ((memory.read() as { closed?: string[] } | undefined)?.closed || []).slice(-100);
  let timer = 0;
  let asked = false;
  ago();

  // Removes notices that have expired, at the second, and those that the visitor has closed.
  function look() {
    clearTimeout(timer);
    let soonest = 3600e3; // timers sleep with the computer
    const gone = closed();
    for (const notice of [...notices]) {
      const left = notice.dataset.until ? Date.parse(notice.dataset.until) - now() : Infinity;
      const close = notice.querySelector<HTMLButtonElement>(".close");
      if (close) close.hidden = false;
      if (left <= 0 || (close && gone.includes(notice.dataset.item!))) notice.remove();
      else soonest = Math.min(soonest, left);
    }
    if (!notices.length) {
      if (next && !next.hidden) load()?.then(look);
      else if (settings.gone) hide(true);
      else root.querySelector<HTMLElement>(".empty")!.hidden = false;
    }
    paging?.look();
    // The service's clock, if something expires soon.
    if (soonest < 3600e3 && !asked) {
      asked = true;
      exact(look);
    }
    timer = setTimeout(look, soonest);
  }

  root.addEventListener("click", (event) => {
    const close = (event.target as Element).closest(".close");
    const notice = close?.closest<HTMLElement>(".notice");
    if (!notice) return;
    memory.write({ closed: [...closed(), notice.dataset.item!] }, 30);
    const beside = (notice.nextElementSibling || notice.previousElementSibling)?.querySelector<HTMLElement>(".close");
    notice.remove(); // also without storage
    look();
    beside?.focus();
  });

  const load = next
    ? more({
        link: next,
        list,
        failed: say("failed"),
        added(fresh, left) {
          next.textContent = say("more", Math.min(left, fresh.length));
          ago();
          look();
        },
      })
    : () => undefined;
  const bar = root.querySelector<HTMLElement>(".controls");
  const paging = bar
    ? carousel(list, {
        bar,
        back: bar.querySelector<HTMLButtonElement>(".back")!,
        on: bar.querySelector<HTMLButtonElement>(".on")!,
        moved: (here) => (bar.querySelector(".place")!.textContent = say("place", here + 1).replace("{of}", String(notices.length))),
      })
    : undefined;
  memory.changed(look);
  look();
  document.addEventListener("visibilitychange", () => document.hidden || look(), { signal });
  signal.addEventListener("abort", () => clearTimeout(timer));
}
