// What the worktop puts into every loop of a script calls this: a loop that does not come to
// its end is stopped, and the worktop goes on.
const patience = 1000; // milliseconds of one task
let count = 0;
let since = 0;

export function turn() {
  if (++count & 1023) return;
  const now = performance.now();
  if (!since) {
    since = now;
    // Runs when the task is over; a loop that waits for promises alone never lets it.
    setTimeout(() => (since = 0));
  } else if (now - since > patience) {
    since = 0;
    throw new Error("This loop ran for a second without ending. It was stopped, only in the worktop.");
  }
}
