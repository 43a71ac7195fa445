// The worktop's frame: it draws a widget under development with the same mount as a visitor's page,
// applies its stylesheet as the author types, and reports the origin of the part under the
// pointer, the script's output, and its errors. It is sandboxed without an origin.
import "./frame/focus";
import "./main";
import { forget } from "./forget";
import { lay } from "./frame/host";
import { Pointer } from "./frame/pointer";
import { fonts } from "./kit/fonts";
import { mount } from "./mount";
import type { Global, Module } from "./types";
import { part, register } from "./worktop/pick";
import { listen } from "./worktop/say";
import { known } from "./worktop/spots";
import { watch } from "./worktop/touch";
import { turn } from "./worktop/turn";
import type { Answer, Draw, Order } from "./worktop/types";

const w = window as unknown as { glassPocket: Global; $glassTurn: () => void };
const g = w.glassPocket;
w.$glassTurn = turn;

addEventListener("message", function first(event) {
  const port = event.ports[0];
  if (event.source != parent || !port) return;
  removeEventListener("message", first);
  const tell = (answer: Answer) => port.postMessage(answer);
  const failed = listen((said) => tell({ said }));
  watch();

  let stages: HTMLElement[] = [];
  let rules = 0;
  const author = new CSSStyleSheet();
  let written = ""; // the text from which author was made
  let drawing = 0;
  const roots = () => stages.flatMap((s) => s.shadowRoot ?? []);

  const describe = (at: Element) => {
    chosen = at;
    pointer.outline([at]);
    tell({ part: part(at, rules) });
  };
  let chosen: Element | null = null;
  const pointer = new Pointer(
    roots,
    (at) => tell({ over: at && { mark: at.hasAttribute("data-glass-part") ? Number(at.getAttribute("data-glass-part")) : null, name: at.localName } }),
    describe,
  );
  const marked = (mark: number) => roots().flatMap((r) => r.querySelector(`[data-glass-part="${mark}"]`) ?? [])[0] ?? null;

  let last: { script: string; module: Promise<Module> } | undefined;
  async function compiled(script: string): Promise<Module | undefined> {
    if (!script) return undefined;
    if (last?.script != script) last = { script, module: run(script) };
    return last!.module;
  }
  async function run(script: string): Promise<Module> {
    const address = URL.createObjectURL(new Blob([`export default function($mount){\n${script}\n}`], { type: "text/javascript" }));
    known(address);
    const { default: module } = await import(address);
    URL.revokeObjectURL(address);
    return module;
  }

  function restyle(sheet: string, count: number, only = -1, rule = "", tops = -1) {
    rules = count;
    register(rules);
    if (sheet == written) return;
    written = sheet;
    // Replacing a single rule leaves all others as they are, which avoids most of the work.
    if (author.cssRules.length == tops) {
      try {
        author.insertRule(rule, only);
        author.deleteRule(only + 1);
        return;
      } catch {
        // It is not a valid rule while somebody types it.
      }
    }
    author.replaceSync(sheet);
  }

  async function draw(order: Draw) {
    const mine = ++drawing;
    const module = await compiled(order.script);
    if (mine != drawing) return; // a later one has started
    for (const stage of stages) forget(g, stage);
    stages = lay(order.host);
    restyle(order.sheet, order.rules);
    fonts(undefined as never, { fonts: order.draw.look.fonts });
    const elements = new CSSStyleSheet();
    elements.replaceSync(order.draw.style);
    const template = document.createElement("template");
    for (const stage of stages) {
      // Style and markup come separately, not in the payload: mount caches those forever, and here
      // they change with each keystroke.
      const prepared: Module = (give) =>
        give((pocket) => {
          g.live.get(stage)!.payload = order.draw; // the kit reads it there
          template.innerHTML = order.draw.markup;
          pocket.root.append(template.content);
          const root = pocket.root.getRootNode() as ShadowRoot;
          root.adoptedStyleSheets = [root.adoptedStyleSheets[0], author, elements];
          module?.((run) => {
            try {
              run(pocket);
            } catch (error) {
              failed(error);
            }
          });
        });
      mount(g, stage, false, { ...order.draw, style: "", markup: "" }, prepared);
      // Opens what waits to be opened.
      stage.dispatchEvent(new CustomEvent("glass-pocket:open"));
    }
    const again = chosen && order.chosen != null ? marked(order.chosen) : null;
    chosen = again;
    pointer.outline(again ? [again] : []);
    if (again) tell({ part: part(again, rules) });
    tell({ drawn: true });
  }

  port.onmessage = async ({ data }: MessageEvent<Order>) => {
    const came = performance.now();
    try {
      if ("draw" in data) await draw(data);
      else if ("sheet" in data) {
        restyle(data.sheet, data.rules, data.only, data.rule, data.tops);
        if (chosen?.isConnected) {
          pointer.outline([chosen]);
          tell({ part: part(chosen, rules) });
        }
      } else if ("look" in data) {
        for (const root of roots()) {
          const inner = root.querySelector<HTMLElement>(".pocket");
          for (const [name, value] of Object.entries(data.look.attributes)) inner?.setAttribute(name, value);
          for (const [name, value] of Object.entries(data.look.properties)) inner?.style.setProperty(name, value);
        }
      } else if ("point" in data) {
        pointer.on = data.point;
        document.documentElement.style.cursor = data.point ? "crosshair" : "";
        if (!data.point) pointer.outline([]);
      } else if ("show" in data) pointer.outline([data.show == null ? chosen : marked(data.show)].flatMap((at) => at ?? []));
      else if ("choose" in data) {
        const at = marked(data.choose);
        if (at) {
          at.scrollIntoView({ block: "nearest" });
          describe(at);
        } else {
          chosen = null;
          pointer.outline([]);
        }
      } else if ("beat" in data) return tell({ beat: data.beat });
    } catch (error) {
      failed(error);
    }
    requestAnimationFrame(() => tell({ painted: performance.now() - came }));
  };
  addEventListener("keydown", (event) => {
    if (event.key == "Escape" || /^F\d+$/.test(event.key)) tell({ key: event.key });
  });
  addEventListener("scroll", () => pointer.outline(chosen?.isConnected ? [chosen] : []), { passive: true, capture: true });
  tell({ ready: true });
});

