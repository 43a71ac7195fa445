// The frame that lies beneath the console's gallery: it draws many pockets in one page, each in
// a cell of its own that the console has room for, made smaller and cut off at its edges. One
// frame costs what one page costs; a frame for each would cost a page for each. Sandboxed
// without an origin.
import "./frame/focus";
import "./main";
import { forget } from "./forget";
import { fonts } from "./kit/fonts";
import { mount } from "./mount";
import type { Cell, GalleryAnswer, GalleryOrder } from "./frame/gallery";
import type { Global, Module, Payload } from "./types";

const g = (window as unknown as { glassPocket: Global }).glassPocket;
const modules = new Map<string, Promise<{ default: Module }>>();

function load(address: string) {
  if (!modules.has(address)) modules.set(address, import(address));
  return modules.get(address)!;
}

// What would lie over the whole page lies over its own cell: what is in the top layer would
// leave it.
HTMLDialogElement.prototype.showModal = function () {
  this.show();
};
HTMLElement.prototype.showPopover = function () {
  this.removeAttribute("popover");
};
// There is no page around them whose bars could lie over their edges, and looking for some costs a
// layout each.
Document.prototype.elementsFromPoint = () => [];
// Nothing here is to be used, and nothing takes the keyboard from the console.
document.documentElement.inert = true;
HTMLElement.prototype.focus = () => {};

const style = new CSSStyleSheet();
style.replaceSync(`
  body { margin: 0; }
  .cell { position: absolute; overflow: hidden; contain: strict; content-visibility: auto; border-radius: 11px 11px 0 0; background: #fff; }
  .cell.dark { background: #10151f; }
  .page { position: absolute; inset: 0 auto auto 0; transform-origin: 0 0; display: grid; align-content: safe center; padding: 28px; box-sizing: border-box; }
  .page.coming { display: none; }
  .page.floats { padding: 0; background: #f4f6f5; }
`);
document.adoptedStyleSheets = [style];

const around = 28; // CSS pixels of the page around a widget
const narrow = 440; // of the page that flat ones are drawn in
const flatter = 0.25; // what is flat: its height for its width
const atOnce = 4; // that are laid out in one go while they are out of sight

const cells = new Map<string, { box: HTMLElement; page: HTMLElement; stage: HTMLElement }>();

function cell(id: string) {
  let made = cells.get(id);
  if (!made) {
    const box = document.createElement("div");
    const page = document.createElement("div");
    const stage = document.createElement("div");
    box.className = "cell";
    page.className = "page";
    page.append(stage);
    box.append(page);
    document.body.append(box);
    cells.set(id, (made = { box, page, stage }));
  }
  return made;
}

addEventListener("message", function first(event) {
  const port = event.ports[0];
  if (event.source != parent || !port) return;
  removeEventListener("message", first);
  const tell = (answer: GalleryAnswer) => port.postMessage(answer);

  let laid = new Set<string>(); // what has room
  const drawn = new Set<string>(); // and is seen
  const mounted = new Set<string>(); // and waits for room

  function lay(list: Cell[], height: number) {
    document.body.style.height = `${height}px`;
    laid = new Set(list.map((c) => c.id));
    const again: string[] = []; // may need a different height now
    for (const [id, { box }] of cells) {
      if (box.hidden && laid.has(id) && drawn.has(id)) again.push(id);
      box.hidden = !laid.has(id);
    }
    for (const c of list) {
      const { box, page } = cell(c.id);
      Object.assign(box.style, { left: `${c.left}px`, top: `${c.top}px`, width: `${c.width}px`, height: `${c.height}px` });
      page.classList.toggle("floats", c.floats);
      if (places.get(c.id)?.width != c.width) {
        thin.delete(c.id);
        if (drawn.has(c.id) && !again.includes(c.id)) again.push(c.id);
      }
      places.set(c.id, c);
      size(c);
    }
    fit(again);
    show();
  }

  // Shows what has been mounted and has room. What has no boxes before costs no layout when its
  // script measures it; each looks again when it has.
  function show() {
    const now = [...mounted].filter((id) => laid.has(id));
    for (const id of now) cell(id).page.classList.remove("coming");
    fit(now);
    for (const id of now) {
      mounted.delete(id);
      drawn.add(id);
      cell(id).stage.dispatchEvent(new CustomEvent("glass-pocket:open")); // what waits to be opened shall be seen
      tell({ drawn: id });
    }
  }

  // What is in sight is laid out at once, what is not when there is time for it.
  const later = new Set<string>();
  const out = new Set<string>(); // what has been laid out
  // A browser may find no idle time for a second and more while much is being mounted.
  const soon = (on: () => void) => ("requestIdleCallback" in window ? requestIdleCallback(on, { timeout: 100 }) : setTimeout(on, 50));
  function fit(ids: string[]) {
    const inSight = ids.filter((id) => cell(id).stage.checkVisibility?.({ contentVisibilityAuto: true }) ?? true);
    measure(inSight);
    tellHeights();
    if (!later.size && inSight.length < ids.length) soon(rest);
    for (const id of ids) if (!inSight.includes(id)) later.add(id);
  }
  function rest() {
    const next = [...later].slice(0, atOnce);
    for (const id of next) later.delete(id);
    measure(next);
    if (later.size) soon(rest);
    else tellHeights();
  }

  // For each answer the console lays out all cards again, so the heights of those out of sight go
  // in one.
  let heights: Record<string, number> = {};
  function tellHeights() {
    if (Object.keys(heights).length) tell({ heights });
    heights = {};
  }

  // What is flat, such as a bar, is drawn in a narrower page: larger, as on a telephone.
  const places = new Map<string, Cell>();
  const thin = new Set<string>();
  const scaleOf = (c: Cell) => (thin.has(c.id) ? Math.min(1, c.width / narrow) : c.scale);
  function size(c: Cell) {
    const scale = scaleOf(c);
    Object.assign(cell(c.id).page.style, { width: `${c.width / scale}px`, height: `${c.height / scale}px`, transform: `scale(${scale})` });
  }

  // What is higher than its cell may be is drawn smaller still, down to a size at which it can be
  // read; and the console is told how high each is, so that its card fits it.
  // All are measured before the first is changed: one layout, not one each.
  function measure(ids: string[]) {
    for (const id of ids) cell(id).box.style.contentVisibility = "visible"; // from now on nobody scrolls to an empty cell
    const standing = ids.map((id) => places.get(id)!).filter((c) => c && !c.floats && laid.has(c.id));
    const flat = standing.filter((c) => !thin.has(c.id) && cell(c.id).stage.offsetHeight < (c.width / c.scale) * flatter);
    for (const c of flat) {
      thin.add(c.id);
      size(c);
    }
    const high = standing.map((c) => cell(c.id).stage.offsetHeight);
    standing.forEach((c, i) => {
      const scale = scaleOf(c);
      const room = c.most / scale - 2 * around;
      const zoom = Math.max(0.62, Math.min(1, room / (high[i] || room)));
      cell(c.id).stage.style.zoom = String(zoom);
      heights[c.id] = Math.min(c.most, Math.ceil((high[i] * zoom + 2 * around) * scale));
    });
    for (const id of ids) out.add(id);
    tell({ laidOut: out.size });
  }

  async function draw(id: string, payload: Payload & { module?: string }) {
    const module = payload.module ? (await load(payload.module)).default : undefined;
    const { page, stage } = cell(id);
    if (g.live.get(stage)) forget(g, stage);
    page.classList.add("coming");
    fonts(undefined as never, { fonts: payload.look.fonts });
    mount(g, stage, false, payload, module);
  }

  port.onmessage = async ({ data }: MessageEvent<GalleryOrder>) => {
    if ("lay" in data) return lay(data.lay, data.height);
    for (const { id, payload } of data.draw) {
      try {
        await draw(id, payload);
        mounted.add(id);
      } catch (error) {
        tell({ failed: id, why: String(error) });
      }
    }
    show();
  };
  tell({ ready: true });
});
