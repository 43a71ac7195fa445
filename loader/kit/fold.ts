// Cuts long texts after the lines that the stylesheet allows, with a button for the rest. Buttons of
// texts that fit stay hidden.
import type { Pocket } from "./types";

export interface Fold {
  text: string; // selector of the text within a block
  button: string; // selector of its button
  more: string; // label of the button while the text is cut
  less: string; // label while it is whole
}

export function fold(pocket: Pocket) {
  const { root, signal } = pocket;
  pocket.fold = ({ text, button, more, less }: Fold) => {
    const blocks: HTMLElement[] = [];
    // After a layout and before the paint, so that measuring causes no layout of its own.
    const sizes = new ResizeObserver(look);

    // First measures all, then shows all buttons, so that the page is laid out once.
    function look() {
      const cut = blocks.filter((block) => block.dataset.fold != "open" && !block.hidden);
      const long = cut.map((block) => {
        const words = block.querySelector<HTMLElement>(text)!;
        return words.scrollHeight > words.clientHeight + 2;
      });
      cut.forEach((block, i) => (block.querySelector<HTMLElement>(button)!.hidden = !long[i]));
    }

    function add(list: Iterable<HTMLElement>) {
      for (const block of list) {
        const press = block.querySelector<HTMLButtonElement>(button);
        if (!press || !block.querySelector(text)) continue;
        blocks.push(block);
        block.dataset.fold = "cut";
        press.setAttribute("aria-expanded", "false");
        press.textContent = more;
        press.addEventListener("click", () => {
          const open = block.dataset.fold != "open";
          block.dataset.fold = open ? "open" : "cut";
          press.textContent = open ? less : more;
          press.setAttribute("aria-expanded", String(open));
          // The start of a text that is cut again may be far above the window.
          if (!open && block.getBoundingClientRect().top < 0) block.scrollIntoView({ block: "start", behavior: "instant" });
        });
      }
    }
    sizes.observe(root);
    signal.addEventListener("abort", () => sizes.disconnect());
    return add;
  };
}
