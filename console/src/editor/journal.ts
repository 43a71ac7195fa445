// What is typed and not saved yet, kept in this browser at each keystroke: a tab that is
// closed, or a browser that ends, loses nothing.
export interface Left {
  path: string;
  value: unknown; // undefined when it was taken away
  base: unknown; // what it is a change of
}

const name = (key: string) => `glass-pocket-draft:${key}`;

export const journal = {
  write(key: string, left: Left[]) {
    try {
      if (left.length == 0) localStorage.removeItem(name(key));
      else localStorage.setItem(name(key), JSON.stringify(left));
    } catch {
      // Full or refused: what is typed is saved within a second all the same.
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
