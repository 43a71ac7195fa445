// The console's side of the preview's channel. The frame is sandboxed and comes from the
// public side; all that reaches it goes through here.
import type { Look, Payload } from "../api/types";

type Answer = { ready?: true; drawn?: true; height?: number; above?: number; error?: string };

export class Stage {
  #port: MessagePort | undefined;
  #waiting: unknown;
  ondrawn: () => void = () => {};
  // above is how much of the height lies above the page's own content.
  onheight: (height: number, above: number) => void = () => {};
  onerror: (what: string) => void = () => {};

  // To be called when the frame has loaded, each time it does.
  connect(frame: HTMLIFrameElement) {
    const channel = new MessageChannel();
    this.#port = channel.port1;
    channel.port1.onmessage = ({ data }: MessageEvent<Answer>) => {
      if (data.ready && this.#waiting) channel.port1.postMessage(this.#waiting);
      if (data.drawn) this.ondrawn();
      if (data.height !== undefined) this.onheight(data.height, data.above ?? 0);
      if (data.error) this.onerror(data.error);
    };
    frame.contentWindow!.postMessage("draw here", "*", [channel.port2]);
  }

  draw(payload: Payload) {
    this.#waiting = { draw: payload };
    this.#port?.postMessage(this.#waiting);
  }

  restyle(look: Look) {
    this.#port?.postMessage({ look });
  }

  close() {
    this.#port?.close();
  }
}

// How high a payload comes out at a width, in CSS pixels, drawn where nobody sees it.
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
    stage.onheight = (height, above) => drawn && end(() => resolve({ height: Math.ceil(height), above: Math.round(above) }));
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
