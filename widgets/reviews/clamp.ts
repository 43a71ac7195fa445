// Truncates long texts after some lines, with a button for the rest. Returns what measures them.
export function clamp(root: HTMLElement, whole: string, part: string, signal: AbortSignal) {
  const reviews = root.querySelectorAll<HTMLElement>(".review");

  let asked = 0;

  // First measures all, then shows all buttons, so that the page is laid out once.
  function look() {
    cancelAnimationFrame(asked);
    asked = 0;
    const cut = [...reviews].filter((review) => review.dataset.long != "open" && !review.hidden);
    const long = cut.map((review) => {
      const words = review.querySelector<HTMLElement>(".words")!;
      return words.scrollHeight > words.clientHeight + 2;
    });
    cut.forEach((review, i) => (review.querySelector<HTMLElement>(".whole")!.hidden = !long[i]));
  }

  for (const review of reviews) {
    const button = review.querySelector<HTMLButtonElement>(".whole")!;
    review.dataset.long = "cut";
    button.setAttribute("aria-expanded", "false");
    button.addEventListener("click", () => {
      const open = review.dataset.long != "open";
      review.dataset.long = open ? "open" : "cut";
      button.textContent = open ? part : whole;
      button.setAttribute("aria-expanded", String(open));
    });
  }
  // In the next frame, which lays out the page anyway.
  const ask = () => void (asked ||= requestAnimationFrame(look));
  const sizes = new ResizeObserver(ask);
  sizes.observe(root);
  signal.addEventListener("abort", () => {
    sizes.disconnect();
    cancelAnimationFrame(asked);
  });
  return look;
}
