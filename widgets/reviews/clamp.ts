// Cuts long texts off after some lines, and gives those that were cut a button for the rest.
export function clamp(root: HTMLElement, whole: string, part: string, signal: AbortSignal) {
  const reviews = root.querySelectorAll<HTMLElement>(".review");

  function look() {
    for (const review of reviews) {
      if (review.dataset.long == "open" || review.hidden) continue;
      const words = review.querySelector<HTMLElement>(".words")!;
      review.dataset.long = "cut";
      review.querySelector<HTMLElement>(".whole")!.hidden = words.scrollHeight <= words.clientHeight + 2;
    }
  }

  for (const review of reviews) {
    const button = review.querySelector<HTMLButtonElement>(".whole")!;
    button.setAttribute("aria-expanded", "false");
    button.addEventListener("click", () => {
      const open = review.dataset.long != "open";
      review.dataset.long = open ? "open" : "cut";
      button.textContent = open ? part : whole;
      button.setAttribute("aria-expanded", String(open));
    });
  }
  const sizes = new ResizeObserver(look);
  sizes.observe(root);
  signal.addEventListener("abort", () => sizes.disconnect());
  look();
}
