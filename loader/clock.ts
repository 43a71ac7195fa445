// The page's only clock: the visitor's own, corrected by what is known of the service's. The
// correction itself is in exact.ts, which is loaded when a widget first needs it.
import type { Global } from "./types";

// A clock that is behind the time of a rendering is certainly wrong.
export function notBefore(g: Global, built: number) {
  g.clock.offset = Math.max(g.clock.offset, built - Date.now());
}

export function now({ clock }: Global) {
  clock.look?.();
  return Date.now() + clock.offset;
}

// Corrects the clock once per page, after the page had time to render. tick is called whenever that
// changes the time.
export function exact({ clock }: Global, load: () => Promise<{ set(c: Global["clock"]): void }>, tick: () => void, signal: AbortSignal) {
  clock.ticks.add(tick);
  signal.addEventListener("abort", () => clock.ticks.delete(tick));
  // If this fails, the visitor's own clock is used.
  clock.set ||= setTimeout(() => load().then((m) => m.set(clock), () => {}), 400);
}
