// Assigns editors to pieces. The sources of a part are searched again after every change, but an
// editor in use must stay the same.
import type { Folder, Piece } from "./folder.svelte";

export interface Kept {
  key: number;
  piece: Piece;
}

export class Pieces {
  #kept: Kept[] = [];
  #used = new Set<Kept>();
  #next = 0;

  constructor(readonly folder: Folder) {}

  // The piece that starts there: a known one, or a new one.
  at(path: string, from: number, to: number): Kept {
    let kept = this.#kept.find((k) => k.piece.path == path && k.piece.from == from && !this.#used.has(k));
    if (!kept) {
      kept = { key: this.#next++, piece: this.folder.keep({ path, from, to }) };
      this.#kept.push(kept);
    }
    this.#used.add(kept);
    return kept;
  }

  // Forgets pieces that nobody has requested since.
  settle() {
    for (const k of this.#kept) if (!this.#used.has(k)) this.folder.release(k.piece);
    this.#kept = this.#kept.filter((k) => this.#used.has(k));
    this.#used.clear();
  }
}
