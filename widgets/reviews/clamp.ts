// Truncates long texts after some lines, with a button for the rest.
export function clamp(root: HTMLElement, whole: string, part: string, signal: AbortSignal) {
  const reviews = root.querySelectorAll<HTMLElement>(".review");

  // First truncates all, then measures all, then shows all buttons, so that the page is laid out
  // once.
  function look() {
    const cut = [...reviews].filter((review) => review.dataset.long != "open" && !review.hidden);
    for (const review of cut) review.dataset.long = "cut";
    const long = cut.map((review) => {
      const words = review.querySelector<HTMLElement>(".words")!;
      return words.scrollHeight > words.clientHeight + 2;
    });
    cut.forEach((review, i) => (review.querySelector<HTMLElement>(".whole")!.hidden = !long[i]));
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
