// The console's side of a preview frame. The frame is sandboxed and comes from the public listener;
// everything that it receives goes through here.
import type { Answer, Draw, Host, In, Made, Order, Show } from "../../../loader/frame/types";
import type { Look, Payload } from "../api/types";

export type { Host, In, Made, Show };

export const bare: Host = { page: "bare", copies: 1, long: false };

export class Stage {
  #port: MessagePort | undefined;
  #last: Draw | undefined;
  #pointing = false;
  #show: Show | null = null;
  ondrawn: () => void = () => {};
  // above is the part of the height above the page's own content.
  onheight: (height: number, above: number) => void = () => {};
  onerror: (what: string) => void = () => {};
  onover: (made: Made[] | null) => void = () => {};
  onchosen: (made: Made[]) => void = () => {};
  onkey: (key: string) => void = () => {};

  // Call it each time the frame has loaded.
  connect(frame: HTMLIFrameElement) {
    this.#port?.close();
    const channel = new MessageChannel();
    const port = (this.#port = channel.port1);
    port.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (port != this.#port) return;
      if ("ready" in data) {
        if (this.#last) this.#send(this.#last);
        if (this.#pointing) this.#send({ point: true });
      } else if ("drawn" in data) {
        this.ondrawn();
        this.onheight(data.height, data.above);
        if (this.#show) this.#send({ show: this.#show });
      } else if ("height" in data) this.onheight(data.height, data.above);
      else if ("over" in data) this.onover(data.over);
      else if ("chosen" in data) this.onchosen(data.chosen);
      else if ("key" in data) this.onkey(data.key);
      else if ("error" in data) this.onerror(data.error);
    };
    frame.contentWindow!.postMessage("draw here", "*", [channel.port2]);
  }

  #send(order: Order) {
    this.#port?.postMessage(order);
  }

  // again draws from the start, as for a visitor who has just arrived.
  draw(payload: Payload, host: Host = bare, conditions: In = {}, again = false) {
    const order: Draw = { draw: payload as never, host, in: conditions };
    this.#last = order;
    this.#send(again ? { ...order, again } : order);
  }

  restyle(look: Look) {
    this.#send({ look: look as never });
  }

  point(on: boolean) {
    this.#pointing = on;
    this.#send({ point: on });
  }

  // Outlines what parts of the view and names of the look made; null for nothing.
  show(what: Show | null) {
    this.#show = what;
    this.#send({ show: what });
  }

  close() {
    this.#port?.close();
    this.#port = undefined;
  }
}

const reservable = 5000; // CSS pixels, the service's limit

// Measures a payload's height at a width, in CSS pixels, in an invisible frame.
export function measure(base: string, payload: Payload, width: number): Promise<{ height: number; above: number }> {
  return new Promise((resolve, reject) => {
    const frame = document.createElement("iframe");
    const stage = new Stage();
    const end = (settle: () => void) => {
      clearTimeout(patience);
      stage.close();
      frame.remove();
      settle();
    };
    const patience = setTimeout(() => end(() => reject(new Error("The preview did not answer."))), 5000);
    let drawn = false;
    stage.ondrawn = () => (drawn = true);
    stage.onheight = (height, above) => {
      const whole = Math.min(reservable, Math.max(1, Math.ceil(height)));
      if (drawn) end(() => resolve({ height: whole, above: Math.min(whole, Math.max(0, Math.round(above))) }));
    };
    stage.onerror = (what) => end(() => reject(new Error(what)));
    frame.sandbox.add("allow-scripts");
    frame.title = "Measuring";
    frame.setAttribute("aria-hidden", "true");
    frame.tabIndex = -1;
    frame.style.cssText = `position:fixed;left:-9999px;top:0;width:${width}px;height:10px;border:0;visibility:hidden`;
    frame.onload = () => {
      stage.connect(frame);
      stage.draw(payload);
    };
    frame.src = `${base}/preview`;
    document.body.append(frame);
  });
}
