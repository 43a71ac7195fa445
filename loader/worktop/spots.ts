import type { Spot } from "./types";

// The scripts that have been run, by their addresses, which stand in stacks.
const scripts = new Set<string>();

export function known(address: string) {
  scripts.add(address);
}

// The places of an error's stack that lie in the author's script, innermost first. What
// browsers write of a stack differs, but each line ends with address:line:column.
export function spots(stack: string | undefined): Spot[] {
  const list: Spot[] = [];
  for (const line of (stack ?? "").split("\n")) {
    const at = /(blob:[^\s()]+?):(\d+):(\d+)/.exec(line);
    if (at && scripts.has(at[1])) list.push([Number(at[2]), Number(at[3])]);
  }
  return list;
}
