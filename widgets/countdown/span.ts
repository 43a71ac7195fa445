// From when to when it runs, and by whose clock.
import type { Pocket } from "./pocket";

export function span({ settings, now, exact, memory }: Pocket) {
  if (settings.clock != "visitor") {
    const at = { begins: settings.begins?.at ?? 0, ends: settings.target?.at ?? 0 };
    return { now, at: () => at, changed: exact };
  }
  const { lastsDays = 0, lastsHours = 0, lastsMinutes = 0, again } = settings;
  const lasts = ((lastsDays * 24 + lastsHours) * 60 + lastsMinutes) * 6e4;
  // What does not start again must be remembered as over for longer than it lasted.
  const keep = lastsDays + (again ? 30 : 365);
  return {
    // Only what has gone by since the start counts here, and that the visitor's own clock
    // tells; setting it right by the service's would move the start.
    now: () => Date.now(),
    at(time: number) {
      let first = (memory.read() as { first?: number } | undefined)?.first;
      // Never seen before; or over and starting again; or a clock that jumped back.
      if (typeof first != "number" || first > time || (again && lasts > 0 && time >= first + lasts)) {
        first = time;
        memory.write({ first }, keep);
      }
      return { begins: first, ends: first + lasts };
    },
    changed: memory.changed,
  };
}
