// Replacements in texts.
export interface Edit {
  from: number;
  to: number;
  insert: string;
}

// Makes all edits at once; their places are those of the text as it comes in.
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
