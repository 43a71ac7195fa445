// Merges two people's changes: values that only one of them changed are kept; where both did, this
// form's value stays and is named.
import { same } from "../same";

type Values = Record<string, unknown>;

export function together(base: Values, mine: Values, theirs: Values): { merged: Values; taken: string[]; contested: string[] } {
  const merged: Values = {};
  const taken: string[] = [];
  const contested: string[] = [];
  for (const key of new Set([...Object.keys(theirs), ...Object.keys(mine), ...Object.keys(base)])) {
    const their = !same(base[key], theirs[key]);
    const my = !same(base[key], mine[key]);
    if (their && !my) taken.push(key);
    if (their && my && !same(mine[key], theirs[key])) contested.push(key);
    const value = my ? mine[key] : theirs[key];
    if (value !== undefined) merged[key] = value;
  }
  return { merged, taken, contested };
}

// Describes the result in words.
export function inWords(taken: string[], contested: string[], label: (key: string) => string): { what: string; hint: string } {
  const names = (keys: string[]) => keys.map(label).join(", ");
  return {
    what: "Somebody else saved first, so your changes are not saved yet." + (taken.length ? ` Added from them: ${names(taken)}.` : ""),
    hint: contested.length ? `Both of you changed ${names(contested)}. Your version is shown here. To keep it, save again.` : "Check the result, then save again.",
  };
}
