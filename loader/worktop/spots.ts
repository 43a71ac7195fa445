import type { Spot } from "./types";

// The scripts that have run, by their addresses, which appear in stack traces.
const scripts = new Set<string>();

export function known(address: string) {
  scripts.add(address);
}

// The places of an error's stack trace that are in the author's script, innermost first. The form
// differs between browsers, but each line ends with address:line:column.
export function spots(stack: string | undefined): Spot[] {
  const list: Spot[] = [];
  for (const line of (stack ?? "").split("\n")) {
    const at = /(blob:[^\s()]+?):(\d+):(\d+)/.exec(line);
    if (at && scripts.has(at[1])) list.push([Number(at[2]), Number(at[3])]);
  }
  return list;
}
