// Sets another date, time and zone for everything in this frame: Date, and the zone that Intl uses.
// The clock runs on from that time, or is stopped.
const Real = Date;
const RealFormat = Intl.DateTimeFormat;
let shift = 0; // milliseconds that the frame is ahead of the computer
let frozen: number | undefined;
let zone = "";

const present = () => frozen ?? Real.now() + shift;

// at is in milliseconds since 1970; undefined for the computer's own time.
export function setClock(at: number | undefined, still: boolean, place: string) {
  shift = at === undefined ? 0 : at - Real.now();
  frozen = at !== undefined && still ? at : undefined;
  zone = place;
  (globalThis as { Date: DateConstructor }).Date = at === undefined && !place ? Real : (Fake as unknown as DateConstructor);
  Intl.DateTimeFormat = place ? (Format as unknown as typeof Intl.DateTimeFormat) : RealFormat;
}

// Shifts the frame's clock by some milliseconds, until it is set again.
export function aside(milliseconds: number) {
  shift += milliseconds;
  if (frozen !== undefined) frozen += milliseconds;
}

function Format(this: unknown, locales?: string | string[], options?: Intl.DateTimeFormatOptions) {
  return new RealFormat(locales, { timeZone: zone || undefined, ...options });
}
Format.prototype = RealFormat.prototype;
Format.supportedLocalesOf = RealFormat.supportedLocalesOf;

const formats = new Map<string, Intl.DateTimeFormat>();

// The local time in the zone at an instant, as if it were UTC.
function wall(at: number): Date {
  let format = formats.get(zone);
  if (!format) {
    format = new RealFormat("en", { timeZone: zone, hourCycle: "h23", year: "numeric", month: "numeric", day: "numeric", hour: "numeric", minute: "numeric", second: "numeric" });
    formats.set(zone, format);
  }
  const of: Record<string, number> = {};
  for (const { type, value } of format.formatToParts(at)) of[type] = +value;
  return new Real(Real.UTC(of.year, of.month - 1, of.day, of.hour, of.minute, of.second, ((at % 1000) + 1000) % 1000));
}

// The instant at which clocks in the zone show this time; the earlier of two.
function instant(wallTime: number): number {
  const once = wallTime - (wall(wallTime).getTime() - wallTime);
  return wallTime - (wall(once).getTime() - once);
}

class Fake extends Real {
  constructor(...given: []) {
    const list = given as unknown as number[];
    if (list.length == 0) super(present());
    else if (list.length == 1 || !zone) super(...(list as [number, number]));
    else super(instant(Real.UTC(...(list as [number, number]))));
  }
  static now = present;
  getTimezoneOffset() {
    return zone ? (this.getTime() - wall(this.getTime()).getTime()) / 60000 : super.getTimezoneOffset();
  }
}

for (const part of ["FullYear", "Month", "Date", "Day", "Hours", "Minutes", "Seconds"] as const) {
  const own = Real.prototype[`get${part}`];
  Object.defineProperty(Fake.prototype, `get${part}`, {
    value(this: Date) {
      return zone && !isNaN(this.getTime()) ? wall(this.getTime())[`getUTC${part}`]() : own.call(this);
    },
  });
}
for (const form of ["toLocaleString", "toLocaleDateString", "toLocaleTimeString"] as const) {
  const own = Real.prototype[form] as (this: Date, l?: Intl.LocalesArgument, o?: Intl.DateTimeFormatOptions) => string;
  Object.defineProperty(Fake.prototype, form, {
    value(this: Date, locales?: Intl.LocalesArgument, options?: Intl.DateTimeFormatOptions) {
      return own.call(this, locales, zone ? { timeZone: zone, ...options } : options);
    },
  });
}
