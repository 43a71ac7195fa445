// In a pocket's own page: reports its height to the page around it whenever it changes, for fit.ts
// there. A page that is not in a frame reports nothing, and shows how to report it.
if (parent != window) {
  const tell = () => parent.postMessage({ glassPocketHeight: document.documentElement.getBoundingClientRect().height }, "*");
  new ResizeObserver(tell).observe(document.documentElement);
  addEventListener("message", ({ data, source }) => {
    if (source == parent && data?.glassPocketAsks) tell();
  });
} else document.getElementById("glass-pocket-report")?.removeAttribute("hidden");
export {};
