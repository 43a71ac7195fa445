import type { DraftFile, Image } from "../api/types";

export interface Entry {
  text: string;
  saved: string; // the service's text
  digest: string; // digest of the service's file, "" if it has none
  binary: boolean; // not text, so it cannot be edited here
  image?: Image;
  removed: boolean;
}

// A part of a file that is followed while the file around it changes.
export interface Piece {
  path: string;
  from: number; // offsets in UTF-16 code units
  to: number;
}

interface Change {
  path: string;
  before: string | null; // null if there is no file
  after: string | null;
}

export interface Step {
  what: string; // a label for undo
  changes: Change[];
  at: number;
}

const mostSteps = 400;
const together = 900; // milliseconds within which keystrokes are combined to a step

// The files of a widget under development. Every change goes through here, so that every change can
// be undone, whichever editor made it.
export class Folder {
  entries = $state<Record<string, Entry>>({});
  past = $state.raw<Step[]>([]);
  future = $state.raw<Step[]>([]);
  onchange: (paths: string[]) => void = () => {};
  // Texts in requests without a response yet, by path: the service may have any of them. null is a
  // deleted file.
  sent = new Map<string, (string | null)[]>();
  #pieces = new Set<Piece>();

  load(files: DraftFile[]) {
    const entries: Record<string, Entry> = {};
    for (const f of files) {
      const text = f.text ?? "";
      entries[f.path] = { text, saved: text, digest: f.digest ?? "", binary: f.base64 !== undefined || f.path.startsWith("assets/"), image: f.image, removed: false };
    }
    this.entries = entries;
    this.past = [];
    this.future = [];
  }

  get paths(): string[] {
    return Object.keys(this.entries)
      .filter((p) => !this.entries[p].removed)
      .sort();
  }

  text(path: string): string {
    const entry = this.entries[path];
    return entry && !entry.removed ? entry.text : "";
  }

  has(path: string): boolean {
    return !!this.entries[path] && !this.entries[path].removed;
  }

  // Files that the service may not have.
  get unsaved(): DraftFile[] {
    return Object.entries(this.entries)
      .filter(([path, e]) => this.sent.has(path) || (e.removed ? e.digest != "" : !e.binary && (e.text != e.saved || e.digest == "")))
      .map(([path, e]) => (e.removed ? { path, removed: true, was: e.digest } : { path, text: e.text, was: e.digest }));
  }

  keep(piece: Piece): Piece {
    this.#pieces.add(piece);
    return piece;
  }

  release(piece: Piece) {
    this.#pieces.delete(piece);
  }

  // Replaces a part of a file while somebody types.
  type(path: string, from: number, to: number, insert: string) {
    const text = this.text(path);
    this.#record(`typing in ${path}`, [{ path, before: text, after: text.slice(0, from) + insert + text.slice(to) }], true);
    this.#splice(path, from, to, insert);
    this.onchange([path]);
  }

  // Changes files in one step; null deletes one.
  change(what: string, files: Record<string, string | null>) {
    const changes: Change[] = [];
    for (const [path, after] of Object.entries(files)) {
      const before = this.has(path) ? this.text(path) : null;
      if (before !== after) changes.push({ path, before, after });
    }
    if (changes.length == 0) return;
    this.#record(what, changes, false);
    this.#put(changes.map(({ path, after }) => ({ path, text: after })));
  }

  undo(): string {
    const step = this.past[this.past.length - 1];
    if (!step) return "";
    this.past = this.past.slice(0, -1);
    this.future = [...this.future, step];
    this.#put(step.changes.map(({ path, before }) => ({ path, text: before })));
    return step.what;
  }

  redo(): string {
    const step = this.future[this.future.length - 1];
    if (!step) return "";
    this.future = this.future.slice(0, -1);
    this.past = [...this.past, step];
    this.#put(step.changes.map(({ path, after }) => ({ path, text: after })));
    return step.what;
  }

  // Updates unchanged files to the service's.
  refresh(files: DraftFile[]): string[] {
    const news: { path: string; text: string | null }[] = [];
    for (const f of files) {
      const entry = this.entries[f.path];
      const text = f.text ?? "";
      if (!entry) {
        this.entries[f.path] = { text, saved: text, digest: f.digest ?? "", binary: f.base64 !== undefined || f.path.startsWith("assets/"), image: f.image, removed: false };
        news.push({ path: f.path, text });
      } else if (entry.digest != f.digest) {
        const mine = entry.text != entry.saved;
        if (!mine) news.push({ path: f.path, text });
        entry.saved = text;
        entry.digest = f.digest ?? "";
        entry.image = f.image;
      }
    }
    for (const [path, entry] of Object.entries(this.entries)) {
      if (entry.digest != "" && !files.some((f) => f.path == path)) {
        entry.digest = "";
        if (entry.text == entry.saved || entry.removed) {
          delete this.entries[path];
          news.push({ path, text: null });
        }
      }
    }
    for (const { path, text } of news) if (text !== null) this.#replace(path, text);
    if (news.length) this.onchange(news.map((n) => n.path));
    return news.map((n) => n.path);
  }

  #record(what: string, changes: Change[], joins: boolean) {
    const last = this.past[this.past.length - 1];
    const now = performance.now();
    if (joins && last?.what == what && now - last.at < together && this.future.length == 0) {
      last.changes[0].after = changes[0].after;
      last.at = now;
    } else this.past = [...this.past.slice(-mostSteps + 1), { what, changes, at: joins ? now : -Infinity }];
    this.future = [];
  }

  #put(files: { path: string; text: string | null }[]) {
    for (const { path, text } of files) {
      const entry = this.entries[path];
      if (text === null) {
        if (entry && (entry.digest || this.sent.has(path))) entry.removed = true;
        else delete this.entries[path];
      } else if (entry?.binary) entry.removed = false; // its content was never loaded
      else if (!entry) this.entries[path] = { text, saved: "", digest: "", binary: false, removed: false };
      else {
        entry.removed = false;
        this.#replace(path, text);
      }
    }
    this.onchange(files.map((f) => f.path));
  }

  // Makes the smallest change to the given text, so that pieces stay in place.
  #replace(path: string, text: string) {
    const { from, to, insert } = difference(this.entries[path].text, text);
    this.#splice(path, from, to, insert);
  }

  #splice(path: string, from: number, to: number, insert: string) {
    const entry = this.entries[path];
    entry.text = entry.text.slice(0, from) + insert + entry.text.slice(to);
    const moved = insert.length - (to - from);
    for (const piece of this.#pieces) {
      if (piece.path != path) continue;
      // Text typed at the end of a piece belongs to it.
      if (from > piece.to || (from == piece.to && to > piece.to)) continue;
      if (to < piece.from) {
        piece.from += moved;
        piece.to += moved;
        continue;
      }
      const end = Math.max(piece.to, to) + moved;
      piece.from = Math.min(piece.from, from);
      piece.to = Math.max(piece.from, end);
    }
  }
}

// The smallest single replacement that turns one text into the other.
export function difference(before: string, after: string): { from: number; to: number; insert: string } {
  let from = 0;
  const most = Math.min(before.length, after.length);
  while (from < most && before[from] == after[from]) from++;
  let same = 0;
  while (same < most - from && before[before.length - 1 - same] == after[after.length - 1 - same]) same++;
  return { from, to: before.length - same, insert: after.slice(from, after.length - same) };
}
