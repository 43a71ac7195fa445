// The console's side of a worktop frame. The frame is sandboxed and comes from the public listener;
// everything that it receives goes through here.
import type { Sheet } from "./css";
import type { Answer, Draw, Host, Order, Part, Said } from "../../../loader/worktop/types";

export type { Draw, Host, Part, Said };

const beatEvery = 1000;
const patience = 4000; // milliseconds without a response

export class Frame {
  ondrawn: () => void = () => {};
  onpainted: (milliseconds: number) => void = () => {};
  onpart: (part: Part) => void = () => {};
  onover: (over: { mark: number | null; name: string } | null) => void = () => {};
  onsaid: (said: Said) => void = () => {};
  onkey: (key: string) => void = () => {};
  // The frame does not respond; begun tells whether it ever did.
  onstuck: (begun: boolean) => void = () => {};
  #port: MessagePort | undefined;
  #last: Draw | undefined;
  #pointing = false;
  #pulse: ReturnType<typeof setInterval> | undefined;
  #heard = 0;
  #begun = false;

  // Call it when the frame is added to the page.
  watch() {
    this.#begun = false;
    this.#heard = performance.now();
    clearInterval(this.#pulse);
    let beat = 0;
    this.#pulse = setInterval(() => {
      // Timers of a background tab are late, which is not a fault.
      if (document.hidden) return void (this.#heard = performance.now());
      if (performance.now() - this.#heard > patience) {
        this.close();
        this.onstuck(this.#begun);
      } else this.#send({ beat: ++beat });
    }, beatEvery);
  }

  // Call it each time the frame has loaded.
  connect(frame: HTMLIFrameElement) {
    this.#port?.close();
    const channel = new MessageChannel();
    const port = (this.#port = channel.port1);
    port.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (port != this.#port) return;
      this.#heard = performance.now();
      if ("ready" in data) {
        this.#begun = true;
        if (this.#last) this.#send(this.#last);
        this.#send({ point: this.#pointing });
      } else if ("drawn" in data) this.ondrawn();
      else if ("painted" in data) this.onpainted(data.painted);
      else if ("part" in data) this.onpart(data.part);
      else if ("over" in data) this.onover(data.over);
      else if ("said" in data) this.onsaid(data.said);
      else if ("key" in data) this.onkey(data.key);
    };
    frame.contentWindow!.postMessage("draw here", "*", [channel.port2]);
    this.#heard = performance.now();
  }

  #send(order: Order) {
    this.#port?.postMessage(order);
  }

  draw(order: Draw) {
    this.#last = order;
    this.#send(order);
  }

  // only is the changed top-level rule, -1 if there are several.
  restyle({ text: sheet, rules, tops }: Sheet, only: number) {
    if (this.#last) this.#last = { ...this.#last, sheet, rules: rules.length };
    this.#send({ sheet, rules: rules.length, ...(only < 0 ? {} : { only, rule: tops[only], tops: tops.length }) });
  }

  point(on: boolean) {
    this.#pointing = on;
    this.#send({ point: on });
  }

  show(mark: number | null) {
    this.#send({ show: mark });
  }

  choose(mark: number) {
    this.#send({ choose: mark });
  }

  close() {
    clearInterval(this.#pulse);
    this.#port?.close();
    this.#port = undefined;
  }
}
