import type { Pocket } from "./pocket";

// Opens at the right time, and stays closed after somebody closes it.
export default function mount({ root, settings, say, memory, reading, tell, hear, signal }: Pocket) {
  const box = root.querySelector<HTMLDialogElement>(".popup")!;
  // In the middle it needs an answer. In a corner or at the bottom, the page stays usable.
  const modal = settings.layout != "corner" && settings.layout != "foot";
  let before: Element | null = null;
  let asked = false;

  const closed = () => (memory.read() as { closed?: boolean } | undefined)?.closed;

  function open(by?: Element) {
    if (box.open || signal.aborted) return;
    before = by || document.activeElement;
    // The focus goes to the dialog itself, so that its title is read first and somebody who is
    // typing does not press a button.
    box.tabIndex = -1;
    if (modal) {
      box.showModal();
      box.focus();
    } else {
      // Opened automatically, it does not take the focus.
      box.open = true;
      if (by) box.focus();
    }
    tell("opened");
  }

  // It opens automatically once, unless it was closed before.
  function unasked() {
    if (asked || closed()) return;
    asked = true;
    open();
  }

  // Not with the event "close", which comes in a later task (HTML, section 4.11.4): if the visitor
  // has left the page by then, it would open again.
  new MutationObserver(() => {
    if (box.open || signal.aborted) return; // opened, or removed instead of closed
    memory.write({ closed: true }, settings.again);
    if (before?.isConnected) (before as HTMLElement).focus?.();
    tell("closed");
  }).observe(box, { attributeFilter: ["open"] });
  box.addEventListener("keydown", (event) => {
    // A modal dialog does this by itself.
    if (event.key == "Escape" && !modal) {
      event.stopPropagation();
      box.close();
    }
  });
  // A click on the backdrop.
  box.addEventListener("pointerdown", (event) => {
    if (!modal || event.target != box) return;
    const { left, right, top, bottom } = box.getBoundingClientRect();
    if (event.clientX < left || event.clientX > right || event.clientY < top || event.clientY > bottom) box.close();
  });

  const copy = root.querySelector<HTMLButtonElement>(".copy");
  copy?.addEventListener("click", async () => {
    const code = root.querySelector(".code")!;
    try {
      await navigator.clipboard.writeText(code.textContent!);
      copy.textContent = say("copied");
      setTimeout(() => (copy.textContent = say("copy")), 2500);
    } catch {
      // If copying is not allowed, select the code, so that it can be copied by hand.
      getSelection()?.selectAllChildren(code);
    }
    copy.setAttribute("aria-live", "polite");
  });

  hear("open", open);
  hear("close", () => box.open && box.close());
  if (settings.opens == "after") {
    const timer = setTimeout(unasked, settings.after!.seconds * 1000);
    signal.addEventListener("abort", () => clearTimeout(timer));
  } else if (settings.opens == "depth") {
    // A page that fits the window counts as read at once, but nobody has scrolled.
    const long = document.documentElement.scrollHeight > innerHeight + 40;
    reading((depth) => {
      if (long && depth * 100 >= settings.depth!) unasked();
    });
  }
  signal.addEventListener("abort", () => box.open && box.close());
}
