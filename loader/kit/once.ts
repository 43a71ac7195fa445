// A widget above the page shows once, however often its snippet was pasted.
import { hostOf, type Pocket } from "./types";

declare const glassPocket: { live: Map<Element, { key: string; host: Element; signal?: AbortSignal }> };

export function once(pocket: Pocket) {
  const host = hostOf(pocket);
  const mine = glassPocket.live.get(host);
  for (const other of glassPocket.live.values()) {
    if (mine && other.key == mine.key && other.host != host && other.host.isConnected) {
      pocket.root.replaceChildren();
      return false;
    }
  }
}
