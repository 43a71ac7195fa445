// In a pocket's own page: tells the page around it how tall it is, whenever that changes, for
// fit.ts there. A page on a screen, which has nobody around it, tells nobody.
if (parent != window) {
  const tell = () => parent.postMessage({ glassPocketHeight: document.documentElement.getBoundingClientRect().height }, "*");
  new ResizeObserver(tell).observe(document.documentElement);
  addEventListener("message", ({ data, source }) => {
    if (source == parent && data?.glassPocketAsks) tell();
  });
}
export {};
