// Wall-clock times that a change of clocks skips or repeats, interpreted as in the service: a
// skipped time counts from the hour before, and of a repeated one the first counts (Temporal's
// "compatible").
export type Odd = { skipped: string } | { second: string }; // the time that counts; the offset of the second

const minute = 60_000;
const formats = new Map<string, Intl.DateTimeFormat>();

// How far clocks in the zone are ahead of UTC at an instant, in milliseconds.
function ahead(at: number, zone: string): number {
  let format = formats.get(zone);
  if (!format) formats.set(zone, (format = new Intl.DateTimeFormat("en", { timeZone: zone, hourCycle: "h23", year: "numeric", month: "numeric", day: "numeric", hour: "numeric", minute: "numeric", second: "numeric" })));
  const of: Record<string, number> = {};
  for (const { type, value } of format.formatToParts(at)) of[type] = +value;
  return Date.UTC(of.year, of.month - 1, of.day, of.hour, of.minute, of.second) - Math.floor(at / 1000) * 1000;
}

const two = (n: number) => String(n).padStart(2, "0");
const written = (offset: number) => `${offset < 0 ? "-" : "+"}${two(Math.floor(Math.abs(offset) / 60 / minute))}:${two((Math.abs(offset) / minute) % 60)}`;

// instant converts "2027-03-01T18:00[Europe/Berlin]" to milliseconds since 1970; NaN if it is not a
// moment. A repeated time is the first one, unless it has an offset.
export function instant(moment: string): number {
  const [, local, offset, zone] = /^([^[Z+]*?)(Z|[+-]\d\d:\d\d)?\[(.*)\]$/.exec(moment) ?? [];
  if (!local) return NaN;
  if (offset) return Date.parse(local + offset);
  const wall = Date.parse(local + "Z");
  try {
    const [before, after] = [ahead(wall - 1440 * minute, zone), ahead(wall + 1440 * minute, zone)];
    return wall - (ahead(wall - before, zone) == before ? before : ahead(wall - after, zone) == after ? after : before);
  } catch {
    return NaN; // no such zone; the service reports it
  }
}

// odd describes what is unusual about "2027-03-28T02:30" in a zone; undefined if nothing is, or if
// either is invalid.
export function odd(local: string, zone: string): Odd | undefined {
  const wall = Date.parse(local + "Z");
  if (isNaN(wall)) return;
  try {
    const [before, after] = [ahead(wall - 1440 * minute, zone), ahead(wall + 1440 * minute, zone)];
    if (before == after) return;
    const real = [before, after].filter((o) => ahead(wall - o, zone) == o);
    if (real.length == 0) return { skipped: new Date(wall - before + after).toISOString().slice(11, 16) };
    if (real.length == 2) return { second: written(Math.min(before, after)) };
  } catch {
    // No such zone; the service reports it.
  }
}
