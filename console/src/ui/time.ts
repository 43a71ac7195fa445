const steps: [Intl.RelativeTimeFormatUnit, number][] = [
  ["day", 86400],
  ["hour", 3600],
  ["minute", 60],
];
const relative = new Intl.RelativeTimeFormat("en", { numeric: "auto" });
const absolute = new Intl.DateTimeFormat("en", { dateStyle: "long", timeStyle: "short" });

// "3 hours ago", "yesterday".
export function ago(at: string, now = Date.now()): string {
  const seconds = (now - Date.parse(at)) / 1000;
  for (const [unit, size] of steps) if (seconds >= size) return relative.format(-Math.floor(seconds / size), unit);
  return "just now";
}

export const exactly = (at: string) => absolute.format(Date.parse(at));
