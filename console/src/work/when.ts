import type { Task } from "../api/types";
import { ago } from "../ui/time";

const ended: Record<string, string> = { done: "Done", failed: "Failed", cancelled: "Cancelled" };

const ahead = new Intl.RelativeTimeFormat("en", { numeric: "always" });

// What a task is doing, in words: "Waiting, in 3 hours", "Failed 2 minutes ago".
export function when(t: Pick<Task, "state" | "due" | "endedAt">, now = Date.now()): string {
  if (t.state == "running") return "Running";
  if (t.state != "waiting") return `${ended[t.state] ?? t.state} ${ago(t.endedAt ?? t.due, now)}`;
  const seconds = Math.ceil((Date.parse(t.due) - now) / 1000);
  if (seconds <= 0) return "Waiting for its turn";
  for (const [unit, size] of [["day", 86400], ["hour", 3600], ["minute", 60]] as const) if (seconds >= size) return `Waiting, ${ahead.format(Math.floor(seconds / size), unit)}`;
  return `Waiting, ${ahead.format(seconds, "second")}`;
}
