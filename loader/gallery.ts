// The frame behind the console's gallery: it draws many pockets in one page, each in its own cell
// where the console has room for it, scaled down and clipped. One frame costs as much as one page;
// a frame for each pocket would cost a page for each. It is sandboxed without an origin.
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

// A widget that would float above the whole page floats above its cell, because the top layer would
// leave the cell.
HTMLDialogElement.prototype.showModal = function () {
  this.show();
};
HTMLElement.prototype.showPopover = function () {
  this.removeAttribute("popover");
};
// No page around the pockets has fixed bars, and a search for them would cost a layout for each
// pocket.
Document.prototype.elementsFromPoint = () => [];
// Nothing here can be used, and nothing takes the keyboard focus from the console.
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
const narrow = 440; // width of the page for flat widgets
const flatter = 0.25; // a widget is flat below this ratio of height to width
const atOnce = 4; // number of invisible pockets that are laid out in one step

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

  let laid = new Set<string>(); // those with a place
  const drawn = new Set<string>(); // and visible
  const mounted = new Set<string>(); // and waiting for a place

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

  // Shows the mounted pockets that have a place. A pocket without boxes costs no layout when its
  // script measures it; each measures again when it has them.
  function show() {
    const ready = [...mounted].filter((id) => laid.has(id));
    for (const id of ready) {
      cell(id).page.classList.remove("coming");
      cell(id).stage.dispatchEvent(new CustomEvent("glass-pocket:open")); // show what waits to be opened
    }
    fit(ready);
    for (const id of ready) {
      mounted.delete(id);
      drawn.add(id);
      tell({ drawn: id });
    }
  }

  // Visible pockets are laid out at once, the others when there is time.
  const later = new Set<string>();
  const out = new Set<string>(); // those that were laid out
  // A browser may be busy for more than a second while it mounts many pockets.
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

  // For each response the console lays out all cards again, so the heights of invisible ones are
  // sent together.
  let heights: Record<string, number> = {};
  function tellHeights() {
    if (Object.keys(heights).length) tell({ heights });
    heights = {};
  }

  // Flat widgets, such as a bar, are drawn in a narrower page: larger, as on a phone.
  const places = new Map<string, Cell>();
  const thin = new Set<string>();
  const scaleOf = (c: Cell) => (thin.has(c.id) ? Math.min(1, c.width / narrow) : c.scale);
  function size(c: Cell) {
    const scale = scaleOf(c);
    Object.assign(cell(c.id).page.style, { width: `${c.width / scale}px`, height: `${c.height / scale}px`, transform: `scale(${scale})` });
  }

  // A widget that is higher than its cell can be is scaled down further, as long as it stays
  // legible. The console receives all heights, so that each card fits. All are measured before the
  // first is changed: one layout instead of one for each.
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
