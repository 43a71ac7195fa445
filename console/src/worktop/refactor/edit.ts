// Replacements in texts.
export interface Edit {
  from: number;
  to: number;
  insert: string;
}

// Makes all edits at once. Their places refer to the original text.
export function applied(text: string, edits: Edit[]): string {
  let out = "";
  let last = 0;
  for (const e of [...edits].sort((a, b) => a.from - b.from)) {
    if (e.from < last) continue; // within another
    out += text.slice(last, e.from) + e.insert;
    last = e.to;
  }
  return out + text.slice(last);
}
