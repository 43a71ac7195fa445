// Unsaved changes, stored in this browser at each keystroke, so that closing the tab or the browser
// loses nothing.
export interface Left {
  path: string;
  value: unknown; // undefined if it was deleted
  base: unknown; // the value before the change
}

const name = (key: string) => `glass-pocket-draft:${key}`;

export const journal = {
  write(key: string, left: Left[]) {
    try {
      if (left.length == 0) localStorage.removeItem(name(key));
      else localStorage.setItem(name(key), JSON.stringify(left));
    } catch {
      // Storage is full or refused. The change is saved at the service within a second anyway.
    }
  },
  read(key: string): Left[] {
    try {
      const list = JSON.parse(localStorage.getItem(name(key)) ?? "[]") as Left[];
      return Array.isArray(list) ? list.filter((f) => typeof f?.path == "string") : [];
    } catch {
      return [];
    }
  },
};
