import type { Global } from "./types";

// One clear message for each error, however often it occurs.
export function report(g: Global, key: string, what: string) {
  const text = `Glass Pocket: “${key}” ${what}`;
  if (!g.said[text]) {
    g.said[text] = 1;
    console.error(text);
  }
}
