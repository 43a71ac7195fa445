// The console's side of the frame that draws the previews behind the gallery's cards.
import type { Cell, GalleryAnswer, GalleryOrder } from "../../../loader/frame/gallery";
import type { Payload } from "../api/types";

export type { Cell };

export class GalleryFrame {
  ondrawn: (id: string) => void = () => {};
  onheights: (heights: Record<string, number>) => void = () => {};
  onlaidout: (count: number) => void = () => {}; // visible or not
  // The frame is ready, and has received what there was to draw.
  ready: Promise<void>;
  #come!: () => void;
  #port: MessagePort | undefined;
  #ready = false;
  #laid: GalleryOrder | undefined;
  #waiting: { id: string; payload: Payload }[] = [];

  constructor() {
    this.ready = new Promise((come) => (this.#come = come));
  }

  // Call it when the frame has loaded.
  connect(frame: HTMLIFrameElement) {
    this.#port?.close();
    this.#ready = false;
    const channel = new MessageChannel();
    this.#port = channel.port1;
    channel.port1.onmessage = ({ data }: MessageEvent<GalleryAnswer>) => {
      if ("ready" in data) {
        this.#ready = true;
        if (this.#laid) this.#port!.postMessage(this.#laid);
        if (this.#waiting.length) this.draw([]);
        this.#come();
      } else if ("heights" in data) this.onheights(data.heights);
      else if ("laidOut" in data) this.onlaidout(data.laidOut);
      else if ("drawn" in data) this.ondrawn(data.drawn);
      else this.ondrawn(data.failed);
    };
    frame.contentWindow!.postMessage("draw here", "*", [channel.port2]);
  }

  lay(cells: Cell[], height: number) {
    this.#laid = { lay: cells, height };
    if (this.#ready) this.#port!.postMessage(this.#laid);
  }

  draw(list: { id: string; payload: Payload }[]) {
    this.#waiting.push(...list);
    if (!this.#ready) return;
    this.#port!.postMessage({ draw: this.#waiting } as unknown as GalleryOrder);
    this.#waiting = [];
  }

  close() {
    this.#port?.close();
  }
}
