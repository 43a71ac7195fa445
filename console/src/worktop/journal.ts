// What is typed and not saved yet, kept in this browser at each keystroke: a tab that is
// closed, or a browser that ends, loses nothing.
import type { DraftFile } from "../api/types";

export interface Left {
  path: string;
  text: string | null; // null when it was taken away
  was: string; // digest of what it is a change of
}

const key = (name: string) => `glass-pocket-worktop:${name}`;

export const journal = {
  write(name: string, files: DraftFile[]) {
    try {
      if (files.length == 0) localStorage.removeItem(key(name));
      else localStorage.setItem(key(name), JSON.stringify(files.map((f): Left => ({ path: f.path, text: f.removed ? null : (f.text ?? ""), was: f.was ?? "" }))));
    } catch {
      // Full or refused: what is typed is saved within a second all the same.
    }
  },
  read(name: string): Left[] {
    try {
      const list = JSON.parse(localStorage.getItem(key(name)) ?? "[]") as Left[];
      return Array.isArray(list) ? list.filter((f) => typeof f.path == "string") : [];
    } catch {
      return [];
    }
  },
};
