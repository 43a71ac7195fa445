// Corrects the page's clock with the service's.
import type { Global } from "./types";

declare const __BASE__: string;

export function set(clock: Global["clock"]) {
  const drift = () => Date.now() - performance.now();
  let steady = drift(); // time of the last request to the service
  let asking = false;

  async function ask() {
    asking = true;
    try {
      const sent = performance.now();
      const told = +(await (await fetch(__BASE__ + "/t", { cache: "no-store", credentials: "omit" })).text());
      const took = performance.now() - sent;
      // A slow response is not accurate.
      if (told > 0 && took < 5000) turn(told + took / 2 - Date.now());
    } catch {
      // If there is no response, the visitor's own clock is used.
    }
    steady = drift();
    asking = false;
  }

  // If nobody sees it, the correction waits for the next tick. A small error is corrected at once,
  // a large one gradually, so that nobody sees the numbers jump. A frame that took long counts as
  // a short one: on a busy page the correction takes longer, but still does not jump.
  function turn(to: number) {
    const from = clock.offset;
    if (Math.abs(to - from) < 50) {
      clock.offset = to;
      return;
    }
    let last = performance.now();
    let part = 0;
    const still = Math.abs(to - from) < 500 || document.hidden || matchMedia("(prefers-reduced-motion: reduce)").matches;
    (function step() {
      const now = performance.now();
      part = still ? 1 : Math.min(1, part + Math.min(50, now - last) / 900);
      last = now;
      clock.offset = from + (to - from) * part * part * (3 - 2 * part);
      for (const tick of clock.ticks) tick();
      if (part < 1) requestAnimationFrame(step);
    })();
  }

  // The computer was suspended, or somebody changed its clock: ask again.
  clock.look = () => {
    if (!asking && Math.abs(drift() - steady) > 2000) ask();
  };
  ask();
}
