// Sends a script's output and errors to the worktop.
import { spots } from "./spots";
import type { Said } from "./types";

const longest = 4000; // characters in a message
const often = 200; // messages per second

export function listen(tell: (said: Said) => void) {
  let count = 0;
  let since = 0;
  const send = (level: Said["level"], text: string, stack: string | undefined) => {
    const now = performance.now();
    if (now - since > 1000) [since, count] = [now, 0];
    if (++count == often) tell({ level: "warn", text: "Too many messages. The rest of this second is not shown.", stack: [] });
    if (count >= often) return;
    tell({ level, text: text.length > longest ? text.slice(0, longest) + "…" : text, stack: spots(stack) });
  };
  for (const level of ["log", "info", "warn", "error", "debug"] as const) {
    const was = console[level];
    console[level] = (...args: unknown[]) => {
      was.apply(console, args);
      const thrown = args.find((a) => a instanceof Error) as Error | undefined;
      send(level, args.map(written).join(" "), thrown?.stack ?? new Error().stack);
    };
  }
  addEventListener("error", (event) => {
    if (event.message.startsWith("ResizeObserver loop")) return; // harmless, and caused by no line
    send("error", event.message, event.error?.stack ?? `at ${event.filename}:${event.lineno}:${event.colno}`);
  });
  addEventListener("unhandledrejection", (event) => {
    send("error", `Unhandled promise rejection: ${written(event.reason)}`, event.reason?.stack);
  });
  return (error: unknown) => send("error", written(error), (error as Error)?.stack);
}

function written(value: unknown): string {
  if (typeof value == "string") return value;
  if (value instanceof Error) return `${value.name}: ${value.message}`;
  if (value instanceof Element) return (value.cloneNode() as Element).outerHTML.replace(/ data-glass-part="\d+"/g, "");
  if (typeof value == "function") return `function ${value.name}`;
  try {
    const seen = new Set<unknown>();
    const text = JSON.stringify(value, (_, inner) => {
      if (typeof inner == "bigint") return `${inner}n`;
      if (inner instanceof Element) return written(inner);
      if (typeof inner == "object" && inner) {
        if (seen.has(inner)) return "…";
        seen.add(inner);
      }
      return inner;
    });
    return text ?? String(value);
  } catch {
    return String(value);
  }
}
