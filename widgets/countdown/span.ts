// The start and the end, and the clock to use.
import type { Pocket } from "./pocket";

export function span({ settings, now, exact, memory }: Pocket) {
  if (settings.clock != "visitor") {
    const at = { begins: settings.begins?.at ?? 0, ends: settings.target?.at ?? 0 };
    return { now, at: () => at, changed: exact };
  }
  const { lastsDays = 0, lastsHours = 0, lastsMinutes = 0, again } = settings;
  const lasts = ((lastsDays * 24 + lastsHours) * 60 + lastsMinutes) * 6e4;
  // A countdown that does not start again must be remembered as over for longer than it lasted.
  const keep = lastsDays + (again ? 30 : 365);
  return {
    // Only the time since the start counts, which the visitor's own clock measures. Correcting it
    // with the service's clock would move the start.
    now: () => Date.now(),
    at(time: number) {
      let first = (memory.read() as { first?: number } | undefined)?.first;
      // Never seen before, or over and starting again, or the clock jumped back.
      if (typeof first != "number" || first > time || (again && lasts > 0 && time >= first + lasts)) {
        first = time;
        memory.write({ first }, keep);
      }
      return { begins: first, ends: first + lasts };
    },
    changed: memory.changed,
  };
}
