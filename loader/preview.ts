// The frame of the editor's preview: it draws what it receives with the same mount as a visitor's
// page, in a page and in conditions of the console's choice, and reports the origin of the part
// under the pointer. It is sandboxed without an origin, and contains nothing but what it receives.
import "./frame/focus";
import "./main";
import { forget } from "./forget";
import { aside, setClock } from "./frame/clock";
import { state } from "./frame/facts";
import { lay } from "./frame/host";
import { styledBy, styles } from "./frame/makes";
import { Pointer } from "./frame/pointer";
import { applyStill, setStill } from "./frame/still";
import type { Answer, Draw, Made, Order, Show } from "./frame/types";
import { fonts } from "./kit/fonts";
import { open } from "./memory";
import { mount } from "./mount";
import type { Global, Module, Payload } from "./types";

const g = (window as unknown as { glassPocket: Global }).glassPocket;
const modules = new Map<string, Promise<{ default: Module }>>();
const earlier = 10 * 60_000; // time since a returning visitor's first visit

function load(address: string) {
  if (!modules.has(address)) modules.set(address, import(address));
  return modules.get(address)!;
}

const markOf = (at: Element) => (at.hasAttribute("data-glass-part") ? Number(at.getAttribute("data-glass-part")) : null);

addEventListener("message", function first(event) {
  const port = event.ports[0];
  if (event.source != parent || !port) return;
  removeEventListener("message", first);
  const tell = (answer: Answer) => port.postMessage(answer);

  let stage: HTMLElement | undefined;
  let last: Draw | undefined;
  let turn = 0;
  let shown: Show | null = null;
  const root = () => stage?.shadowRoot ?? null;
  const pointer = new Pointer(
    () => (root() ? [root()!] : []),
    (at) => tell({ over: at && made(at) }),
    (at) => tell({ chosen: made(at) }),
  );

  // The origins of an element and its ancestors, the innermost first.
  function made(at: Element): Made[] {
    const list: Made[] = [];
    for (let e: Element | null = at; e; e = e.parentElement) {
      const mark = markOf(e);
      const alike = mark == null ? [] : [...root()!.querySelectorAll(`[data-glass-part="${mark}"]`)];
      list.push({ mark, nth: alike.indexOf(e), of: alike.length, names: styledBy(root()!, e) });
    }
    return list;
  }

  function outline() {
    const of = root();
    if (!of || !shown) return pointer.outline([]);
    pointer.outline(found(of, shown));
  }

  function found(of: ShadowRoot, { marks, names, item }: Show): Element[] {
    const alike = marks.map((mark) => [...of.querySelectorAll(`[data-glass-part="${mark}"]`)]);
    // The outermost part that exists once for each item.
    if (item) return alike.find((list) => list.length == item.of)?.slice(item.nth, item.nth + 1) ?? [];
    return [...new Set([...alike.flat(), ...names.flatMap((name) => styles(of, name))])];
  }

  async function draw(order: Draw) {
    const mine = ++turn;
    const module = order.draw.module ? (await load(order.draw.module)).default : undefined;
    if (mine != turn) return; // another draw started while the module loaded
    const anew = order.again || JSON.stringify(order.in) != JSON.stringify(last?.in);
    last = order;
    if (stage) forget(g, stage);
    [stage] = lay(order.host);
    const { at, frozen = false, zone = "", still, visitor } = order.in;
    if (anew) {
      setClock(at, frozen, zone);
      // A separate clock for each draw, because corrections of the last one continue. At a
      // simulated time, the service's own time does not matter.
      g.clock = { offset: 0, ticks: new Set(), set: at === undefined ? undefined : 1 };
      open.clear();
    }
    setStill(still);
    state(order.in.facts);
    fonts(undefined as never, { fonts: order.draw.look.fonts });
    if (anew && visitor == "returning") {
      // They came earlier, saw it, and closed what opened.
      aside(-earlier);
      mount(g, stage, false, { ...order.draw, built: 0 }, module);
      const say = (name: string) => stage!.dispatchEvent(new CustomEvent("glass-pocket:" + name));
      say("open");
      // A dialog's close event comes later, and its script receives it before this does.
      const dialogs = [...(root()?.querySelectorAll("dialog") ?? [])].filter((dialog) => dialog.open);
      const told = dialogs.map((dialog) => new Promise((on) => dialog.addEventListener("close", on, { once: true })));
      say("close");
      await Promise.all(told.filter((_, i) => !dialogs[i].open));
      forget(g, stage);
      aside(earlier);
      if (mine != turn) return;
    }
    mount(g, stage, false, order.draw, module);
    if (root()) applyStill(root()!);
    // Opens what waits to be opened, unless the console wants to see it waiting.
    if (!visitor) stage.dispatchEvent(new CustomEvent("glass-pocket:open"));
    watch.disconnect();
    watch.observe(stage);
    outline();
    // Sent along with it, because frames that are not visible receive no resize events.
    tell({ drawn: true, ...room() });
  }

  const watch = new ResizeObserver(() => {
    tell(room());
    outline();
  });

  // The widget's height, and the part of it above the page's own content.
  function room() {
    const { top, height } = stage!.getBoundingClientRect();
    const around = root()?.querySelector("slot:not([name])")?.parentElement;
    return { height, above: around ? around.getBoundingClientRect().top - top : 0 };
  }

  // A change of the look needs no rendering: only properties and attributes differ.
  function restyle(look: Payload["look"]) {
    const inner = root()?.querySelector<HTMLElement>(".pocket");
    if (!inner) return;
    for (const [name, value] of Object.entries(look.attributes)) inner.setAttribute(name, value);
    for (const [name, value] of Object.entries(look.properties)) inner.style.setProperty(name, value);
  }

  port.onmessage = async ({ data }: MessageEvent<Order>) => {
    try {
      if ("draw" in data) await draw(data);
      else if ("look" in data) restyle(data.look);
      else if ("point" in data) {
        pointer.on = data.point;
        document.documentElement.style.cursor = data.point ? "crosshair" : "";
        if (!data.point) outline();
      } else if ("show" in data) {
        shown = data.show;
        outline();
        if (shown && root()) found(root()!, shown)[0]?.scrollIntoView({ block: "nearest" });
      } else if ("beat" in data) tell({ beat: data.beat });
    } catch (error) {
      tell({ error: String(error) });
    }
  };
  addEventListener("keydown", (event) => {
    if (event.key == "Escape" && pointer.on) tell({ key: event.key });
    if ((event.ctrlKey || event.metaKey) && /^[zy]$/i.test(event.key)) tell({ key: (event.shiftKey ? "Shift+" : "") + event.key.toLowerCase() });
  });
  addEventListener("scroll", outline, { passive: true, capture: true });
  tell({ ready: true });
});
