// Selecting parts: an outline follows the pointer, and a click selects an element and does nothing
// else.
const look = (soft: boolean) =>
  `position:fixed;inset:auto;margin:0;padding:0;border:2px solid #0b6b63;border-radius:4px;background:${soft ? "none" : "#0b6b6322"};box-shadow:0 0 0 1px #ffffffcc;box-sizing:border-box;pointer-events:none;overflow:visible`;

const most = 24; // outlines at once

export class Pointer {
  on = false;
  #frames: HTMLElement[] = [];
  #roots: () => ShadowRoot[];
  #over: (at: Element | null) => void;
  #chosen: (at: Element) => void;

  constructor(roots: () => ShadowRoot[], over: (at: Element | null) => void, chosen: (at: Element) => void) {
    this.#roots = roots;
    this.#over = over;
    this.#chosen = chosen;
    const find = (event: Event) => {
      const at = event.composedPath()[0];
      return at instanceof Element && this.#roots().some((r) => r.contains(at)) ? at : null;
    };
    addEventListener("pointermove", (event) => {
      if (!this.on) return;
      const at = find(event);
      this.outline(at ? [at] : []);
      this.#over(at);
    });
    document.documentElement.addEventListener("pointerleave", () => {
      if (this.on) this.#over(null);
    });
    // Prevents the other effects of a press too.
    for (const kind of ["pointerdown", "mousedown", "pointerup", "mouseup", "click", "dblclick", "auxclick", "contextmenu", "submit"]) {
      addEventListener(
        kind,
        (event) => {
          if (!this.on) return;
          event.preventDefault();
          event.stopImmediatePropagation();
          if (kind == "click") {
            const at = find(event);
            if (at) this.#chosen(at);
          }
        },
        true,
      );
    }
  }

  // Draws outlines around elements, above everything, including popovers and dialogs.
  outline(list: Element[]) {
    const boxes = list.map((at) => at.getBoundingClientRect()).filter((box) => box.width || box.height);
    boxes.length = Math.min(boxes.length, most);
    while (this.#frames.length < boxes.length) {
      const frame = document.createElement("div");
      frame.popover = "manual";
      document.documentElement.append(frame);
      this.#frames.push(frame);
    }
    this.#frames.forEach((frame, i) => {
      if (frame.matches(":popover-open")) frame.hidePopover();
      const box = boxes[i];
      if (!box) return;
      frame.style.cssText = look(boxes.length > 1);
      Object.assign(frame.style, { left: `${box.left - 2}px`, top: `${box.top - 2}px`, width: `${box.width + 4}px`, height: `${box.height + 4}px` });
      frame.showPopover(); // opened again, so that it is above what has opened since
    });
  }
}
