// Unsaved changes, stored in this browser at each keystroke, so that closing the tab or the browser
// loses nothing.
import type { DraftFile } from "../api/types";

export interface Left {
  path: string;
  text: string | null; // null if it was deleted
  was: string; // digest of the file before the change
}

const key = (name: string) => `glass-pocket-worktop:${name}`;

export const journal = {
  write(name: string, files: DraftFile[]) {
    try {
      if (files.length == 0) localStorage.removeItem(key(name));
      else localStorage.setItem(key(name), JSON.stringify(files.map((f): Left => ({ path: f.path, text: f.removed ? null : (f.text ?? ""), was: f.was ?? "" }))));
    } catch {
      // Storage is full or refused. The change is saved at the service within a second anyway.
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
