// From when to when it runs, and by whose clock.

export interface Settings {
  runs: "time" | "number";
  clock: "everyone" | "visitor";
  // What does not matter with the others does not come.
  begins?: { at: number };
  target: { at: number };
  lastsDays: number;
  lastsHours: number;
  lastsMinutes: number;
  again: boolean;
  from: number;
  to: number;
  decimals: number;
  ending: string;
}

interface Clocks {
  settings: Settings;
  now(): number;
  exact(tick: () => void): void;
  memory: { read(): unknown; write(data: unknown, days: number): void; changed(callback: () => void): void };
}

export function span({ settings, now, exact, memory }: Clocks) {
  if (settings.clock != "visitor") {
    const at = { begins: settings.begins?.at ?? 0, ends: settings.target.at };
    return { now, at: () => at, changed: exact };
  }
  const { lastsDays, lastsHours, lastsMinutes, again } = settings;
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
