// Lays out parts of a widget one by one, because all at once would block a slow page for long. They
// become visible together, so that nothing moves. done runs in the same task. The event that opens a
// widget ends it at once: a preview sends it, and then measures the widget.
export function slices(root: HTMLElement, parts: HTMLElement[], signal: AbortSignal, done: () => void) {
  let next = 0;
  let asked = 0;
  root.style.visibility = "hidden";
  for (const part of parts) part.style.display = "none";
  const show = () => (parts[next++].style.display = "");

  function step() {
    const until = performance.now() + 4;
    while (next < parts.length && performance.now() < until) {
      show();
      void root.offsetHeight; // lays it out
    }
    if (next < parts.length) ask();
    else end();
  }
  function end() {
    clearTimeout(asked);
    while (next < parts.length) show();
    root.style.visibility = "";
    done();
  }
  // Not in animation frames, which invisible frames do not have.
  const ask = () => void (asked = setTimeout(step));
  const host = (root.getRootNode() as ShadowRoot).host;
  host.addEventListener("glass-pocket:open", () => root.style.visibility && end(), { signal });
  signal.addEventListener("abort", () => clearTimeout(asked));
  ask();
}
