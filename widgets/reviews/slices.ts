// Lays out parts of a widget one by one, a few in each frame, because all at once would block a slow
// page for long. They become visible together, so that nothing moves.
export function slices(root: HTMLElement, parts: HTMLElement[], signal: AbortSignal, done: () => void) {
  let next = 0;
  root.style.visibility = "hidden";
  for (const part of parts) part.style.display = "none";

  function step() {
    const until = performance.now() + 4;
    for (; next < parts.length && performance.now() < until; next++) {
      parts[next].style.display = "";
      void root.offsetHeight; // lays it out
    }
    if (next < parts.length) return ask();
    done();
    root.style.visibility = "";
  }

  let asked = 0;
  const ask = () => void (asked = requestAnimationFrame(step));
  signal.addEventListener("abort", () => cancelAnimationFrame(asked));
  ask();
}
