// The preview's side of the console's channel: it draws what it is sent with the same
// mount as a visitor's page, and tells its height and its errors. The frame is
// sandboxed without an origin; it holds nothing but what arrives here.
import "./main";
import { forget } from "./forget";
import { fonts } from "./kit/fonts";
import { mount } from "./mount";
import type { Global, Module, Payload } from "./types";

type Draw = { draw: Payload & { module?: string } };
type Restyle = { look: Payload["look"] };

const stage = document.getElementById("stage")!;
const g = (window as unknown as { glassPocket: Global }).glassPocket;
const modules = new Map<string, Promise<{ default: Module }>>();

function load(address: string) {
  if (!modules.has(address)) modules.set(address, import(address));
  return modules.get(address)!;
}

addEventListener("message", function first(event) {
  const port = event.ports[0];
  if (event.source != parent || !port) return;
  removeEventListener("message", first);
  let turn = 0;
  port.onmessage = async ({ data }: MessageEvent<Draw | Restyle>) => {
    try {
      if ("look" in data) return restyle(data.look);
      const mine = ++turn;
      const module = data.draw.module ? (await load(data.draw.module)).default : undefined;
      if (mine != turn) return; // a later draw has come while the module loaded
      forget(g, stage);
      fonts(undefined as never, { fonts: data.draw.look.fonts });
      mount(g, stage, false, data.draw, module);
      // What waits to be opened shall be seen.
      stage.dispatchEvent(new CustomEvent("glass-pocket:open"));
      // Told along with it, since frames out of sight get no resize events.
      port.postMessage({ drawn: true, ...room() });
    } catch (error) {
      port.postMessage({ error: String(error) });
    }
  };
  new ResizeObserver(() => port.postMessage(room())).observe(stage);
  port.postMessage({ ready: true });
});

// The height that the widget takes, and how much of it lies above the page's own content.
function room() {
  const { top, height } = stage.getBoundingClientRect();
  const around = stage.shadowRoot?.querySelector("slot:not([name])")?.parentElement;
  return { height, above: around ? around.getBoundingClientRect().top - top : 0 };
}

// A change of look needs no rendering: properties and attributes are all that differs.
function restyle(look: Payload["look"]) {
  const inner = stage.shadowRoot?.querySelector<HTMLElement>(".pocket");
  if (!inner) return;
  for (const [name, value] of Object.entries(look.attributes)) inner.setAttribute(name, value);
  for (const [name, value] of Object.entries(look.properties)) inner.style.setProperty(name, value);
}
