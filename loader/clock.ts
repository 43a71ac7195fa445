// The page's one clock: the visitor's own, set right by what is known of the service's.
// How it is set right lies in exact.ts, which is fetched when a widget first needs it.
import type { Global } from "./types";

// A clock that is behind the time at which something was rendered is certainly wrong.
export function notBefore(g: Global, built: number) {
  g.clock.offset = Math.max(g.clock.offset, built - Date.now());
}

export function now({ clock }: Global) {
  clock.look?.();
  return Date.now() + clock.offset;
}

// Has the clock set right once a page, when the page has had time to draw itself. tick is
// called whenever that changes the time.
export function exact({ clock }: Global, load: () => Promise<{ set(c: Global["clock"]): void }>, tick: () => void, signal: AbortSignal) {
  clock.ticks.add(tick);
  signal.addEventListener("abort", () => clock.ticks.delete(tick));
  // Without it the visitor's own clock has to do.
  clock.set ||= setTimeout(() => load().then((m) => m.set(clock), () => {}), 400);
}
