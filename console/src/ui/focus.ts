// Where the focus goes when its element is removed, so that nobody has to start again at the top of
// the page.

const lost = () => !document.activeElement || document.activeElement == document.body;

// Focuses an element that cannot have the focus by itself, such as a heading.
export function focusOn(at: HTMLElement) {
  at.focus();
  if (document.activeElement == at) return;
  at.tabIndex = -1;
  at.focus();
}

// After a dialog has closed: returns the focus to what opened it, or to the page's heading if that
// is gone or disabled. If something else has the focus by then, it keeps it.
export function focusBack(before: Element | null) {
  setTimeout(() => {
    if (!lost()) return;
    if (before?.isConnected) (before as HTMLElement).focus();
    const heading = document.querySelector("h1");
    if (lost() && heading) focusOn(heading);
  });
}

let stop = () => {};

// On another page of the console: focuses its heading when it appears.
export function focusArrival() {
  stop();
  const before = document.querySelector("h1");
  const old = before?.textContent;
  const look = () => {
    const heading = document.querySelector("h1");
    if (!heading || (heading == before && heading.textContent == old)) return;
    stop();
    if (lost()) focusOn(heading);
  };
  const watch = new MutationObserver(look);
  const patience = setTimeout(() => stop(), 10_000);
  stop = () => {
    watch.disconnect();
    clearTimeout(patience);
  };
  watch.observe(document.body, { subtree: true, childList: true, characterData: true });
}
