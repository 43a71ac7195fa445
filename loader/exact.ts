// Sets the page's clock right by the service's.
import type { Global } from "./types";

declare const __BASE__: string;

export function set(clock: Global["clock"]) {
  const drift = () => Date.now() - performance.now();
  let steady = drift(); // when the service was last asked
  let asking = false;

  async function ask() {
    asking = true;
    try {
      const sent = performance.now();
      const told = +(await (await fetch(__BASE__ + "/t", { cache: "no-store", credentials: "omit" })).text());
      const took = performance.now() - sent;
      // An answer that was long under way says little.
      if (told > 0 && took < 5000) turn(told + took / 2 - Date.now());
    } catch {
      // Without an answer the visitor's own clock has to do.
    }
    steady = drift();
    asking = false;
  }

  // What nobody sees waits for the next tick; a small error is set right at once; a large one
  // is run through, so that nobody sees the numbers jump.
  function turn(to: number) {
    const from = clock.offset;
    if (Math.abs(to - from) < 50) {
      clock.offset = to;
      return;
    }
    const begin = performance.now();
    const still = Math.abs(to - from) < 500 || document.hidden || matchMedia("(prefers-reduced-motion: reduce)").matches;
    (function step() {
      const part = still ? 1 : Math.min(1, (performance.now() - begin) / 900);
      clock.offset = from + (to - from) * part * part * (3 - 2 * part);
      for (const tick of clock.ticks) tick();
      if (part < 1) requestAnimationFrame(step);
    })();
  }

  // The computer slept, or somebody changed its clock: ask anew.
  clock.look = () => {
    if (!asking && Math.abs(drift() - steady) > 2000) ask();
  };
  ask();
}
