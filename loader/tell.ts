// In a pocket's own page: tells the page around it how tall it is, whenever that changes, for
// fit.ts there. A page by itself tells nobody, and shows how to report it.
if (parent != window) {
  const tell = () => parent.postMessage({ glassPocketHeight: document.documentElement.getBoundingClientRect().height }, "*");
  new ResizeObserver(tell).observe(document.documentElement);
  addEventListener("message", ({ data, source }) => {
    if (source == parent && data?.glassPocketAsks) tell();
  });
} else document.getElementById("glass-pocket-report")?.removeAttribute("hidden");
export {};
