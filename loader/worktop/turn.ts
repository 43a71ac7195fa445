// Called in every loop of a script, where the worktop inserts it: it stops a loop that does not
// end, so that the worktop stays responsive.
const patience = 1000; // milliseconds of one task
let count = 0;
let since = 0;

export function turn() {
  if (++count & 1023) return;
  const now = performance.now();
  if (!since) {
    since = now;
    // Runs after the task. It never runs during a loop that only waits for promises.
    setTimeout(() => (since = 0));
  } else if (now - since > patience) {
    since = 0;
    throw new Error("This loop ran for a second without ending. The worktop stopped it.");
  }
}
