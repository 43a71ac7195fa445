// The page's one clock: the visitor's own, set right by what is known of the service's.

let offset = 0; // milliseconds to add to the visitor's clock
let steady = 0; // what Date.now() and performance.now() differed by when the service was asked
let asking = false;
let where = ""; // address of the service's clock, "" while nobody needs it
const ticks = new Set<() => void>();

const drift = () => Date.now() - performance.now();

// A clock that is behind the time at which something was rendered is certainly wrong.
export function notBefore(built: number) {
  offset = Math.max(offset, built - Date.now());
}

export function now() {
  // The computer slept, or somebody changed its clock: ask anew.
  if (where && !asking && Math.abs(drift() - steady) > 2000) ask();
  return Date.now() + offset;
}

async function ask() {
  asking = true;
  try {
    const sent = performance.now();
    const told = +(await (await fetch(where, { cache: "no-store", credentials: "omit" })).text());
    const took = performance.now() - sent;
    // An answer that was long under way says little.
    if (told > 0 && took < 5000) turn(told + took / 2 - Date.now());
  } catch {
    // Without an answer the visitor's own clock has to do.
  }
  steady = drift();
  asking = false;
}

// A small error is set right between two ticks; a large one is run through, so that
// nobody sees the numbers jump.
function turn(to: number) {
  const from = offset;
  const begin = performance.now();
  const still = Math.abs(to - from) < 500 || document.hidden || matchMedia("(prefers-reduced-motion: reduce)").matches;
  (function step() {
    const part = still ? 1 : Math.min(1, (performance.now() - begin) / 900);
    offset = from + (to - from) * part * part * (3 - 2 * part);
    for (const tick of ticks) tick();
    if (part < 1) requestAnimationFrame(step);
  })();
}

// Sets the clock right by the service's, once a page and after the first paint. tick is
// called whenever that changes the time.
export function exact(base: string, tick: () => void, signal: AbortSignal) {
  ticks.add(tick);
  signal.addEventListener("abort", () => ticks.delete(tick));
  if (where) return;
  steady = drift();
  asking = true;
  where = base + "/t";
  requestAnimationFrame(() => setTimeout(ask));
}
