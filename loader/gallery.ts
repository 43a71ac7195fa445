// The frame that lies beneath the console's gallery: it draws many pockets in one page, each in
// a cell of its own that the console has room for, made smaller and cut off at its edges. One
// frame costs what one page costs; a frame for each would cost a page for each. Sandboxed
// without an origin.
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
  .cell { position: absolute; overflow: hidden; contain: strict; background: #fff; }
  .cell.dark { background: #10151f; }
  .page { position: absolute; inset: 0 auto auto 0; transform-origin: 0 0; display: grid; align-content: safe center; padding: 28px; box-sizing: border-box; }
  .page.floats { padding: 0; background: #f4f6f5; }
`);
document.adoptedStyleSheets = [style];

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

  function lay(list: Cell[], height: number) {
    document.body.style.height = `${height}px`;
    const wanted = new Set(list.map((c) => c.id));
    for (const [id, { box }] of cells) box.hidden = !wanted.has(id);
    for (const { id, left, top, width, height, scale, floats } of list) {
      const { box, page } = cell(id);
      Object.assign(box.style, { left: `${left}px`, top: `${top}px`, width: `${width}px`, height: `${height}px` });
      page.classList.toggle("floats", floats);
      Object.assign(page.style, { width: `${width / scale}px`, height: `${height / scale}px`, transform: `scale(${scale})` });
    }
    if (g.live.size) fit(list.map((c) => c.id).filter((id) => g.live.get(cell(id).stage)));
  }

  // What is higher than its cell is drawn smaller still, down to a size at which it can be read.
  // All are measured before the first is changed: one layout, not one each.
  function fit(ids: string[]) {
    const zooms = ids.map((id) => {
      const { page, stage } = cell(id);
      const room = page.clientHeight - 56;
      return page.classList.contains("floats") ? 1 : Math.max(0.62, Math.min(1, room / (stage.offsetHeight || room)));
    });
    ids.forEach((id, i) => (cell(id).stage.style.zoom = String(zooms[i])));
  }

  async function draw(id: string, payload: Payload & { module?: string }) {
    const module = payload.module ? (await load(payload.module)).default : undefined;
    const { stage } = cell(id);
    if (g.live.get(stage)) forget(g, stage);
    fonts(undefined as never, { fonts: payload.look.fonts });
    mount(g, stage, false, payload, module);
  }

  port.onmessage = async ({ data }: MessageEvent<GalleryOrder>) => {
    if ("lay" in data) return lay(data.lay, data.height);
    const drawn: string[] = [];
    for (const { id, payload } of data.draw) {
      try {
        await draw(id, payload);
        drawn.push(id);
      } catch (error) {
        tell({ failed: id, why: String(error) });
      }
    }
    fit(drawn);
    for (const id of drawn) {
      cell(id).stage.dispatchEvent(new CustomEvent("glass-pocket:open")); // what waits to be opened shall be seen
      tell({ drawn: id });
    }
  };
  tell({ ready: true });
});
