import type { Pocket } from "./pocket";

// Opens when it is time, and stays closed once somebody has closed it.
export default function mount({ root, settings, say, memory, reading, tell, hear, signal }: Pocket) {
  const box = root.querySelector<HTMLDialogElement>(".popup")!;
  // In the middle it asks for an answer; in a corner or at the foot the page stays in use.
  const modal = settings.layout != "corner" && settings.layout != "foot";
  let before: Element | null = null;
  let asked = false;

  const closed = () => (memory.read() as { closed?: boolean } | undefined)?.closed;

  function open(by?: Element) {
    if (box.open || signal.aborted) return;
    before = by || document.activeElement;
    // Focus goes to the dialog itself, so that its title is read first and no key that
    // somebody is typing presses a button.
    box.tabIndex = -1;
    if (modal) {
      box.showModal();
      box.focus();
    } else {
      // Opened so, it does not take the keyboard away from who has not asked for it.
      box.open = true;
      if (by) box.focus();
    }
    tell("opened");
  }

  // By itself it opens once, unless it has been closed before.
  function unasked() {
    if (asked || closed()) return;
    asked = true;
    open();
  }

  // Not by the event "close", which comes in a later task (HTML, section 4.11.4): the page may
  // be left by then, and it would open again.
  new MutationObserver(() => {
    if (box.open || signal.aborted) return; // opened; or taken away, not closed by anybody
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
  // A click beside it, on the veil.
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
      // Not allowed here: marked, it can be copied by hand.
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
    // A page that fits the window is read at once; nobody has scrolled there yet.
    const long = document.documentElement.scrollHeight > innerHeight + 40;
    reading((depth) => {
      if (long && depth * 100 >= settings.depth!) unasked();
    });
  }
  signal.addEventListener("abort", () => box.open && box.close());
}
