// Merges two people's changes to a text.
import { difference } from "./folder.svelte";

// The merged text; null if the changes touch or are on adjacent lines. All changes of one person
// count as one stretch, from the first difference to the last.
export function both(base: string, mine: string, theirs: string): string | null {
  const [a, b] = [difference(base, mine), difference(base, theirs)].sort((x, y) => x.from - y.from);
  if (base.slice(a.to, b.from).split("\n").length < 3 || a.to > b.from) return null;
  return base.slice(0, a.from) + a.insert + base.slice(a.to, b.from) + b.insert + base.slice(b.to);
}

export interface Passage {
  line: number; // number of the first, from 1
  lines: { text: string; changed: boolean }[];
}

// The lines of a text that differ from another's, with some context.
export function passage(text: string, from: string, around = 2): Passage {
  const change = difference(from, text);
  const count = (end: number) => text.slice(0, end).split("\n").length - 1;
  const lines = text.split("\n");
  const [first, last] = [count(change.from), count(change.from + change.insert.length)];
  const begin = Math.max(0, first - around);
  return { line: begin + 1, lines: lines.slice(begin, last + around + 1).map((text, i) => ({ text, changed: change.insert != "" && begin + i >= first && begin + i <= last })) };
}
