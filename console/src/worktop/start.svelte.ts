import { api } from "../api/client";
import { Refused } from "../api/refused";
import type { Fault, PageCopy, ImportedPage } from "../api/types";
import { session } from "../session/session.svelte";
import { nameFrom } from "./name";
import { pageOf, pieceOf, type Piece } from "./pieces-of-page";
import { proposals, settled, type Proposal } from "./refactor/propose";

const textsOf = (taken: ImportedPage): Record<string, string> => Object.fromEntries(taken.files.flatMap((f) => (f.text === undefined ? [] : [[f.path, f.text]])));

export function base64Of(file: Blob): Promise<string> {
  return new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(String(reader.result).split(",")[1] ?? "");
    reader.onerror = () => reject(reader.error);
    reader.readAsDataURL(file);
  });
}

// State of the import of a page, until its author accepts the result.
export class PageIntake {
  pieces = $state<Record<Piece, string>>({ html: "", css: "", js: "" });
  part = $state("");
  copies = $state<Record<string, PageCopy & { name: string }>>({});
  keep = $state<string[]>([]);
  leave = $state<string[]>([]);
  taken = $state.raw<ImportedPage | null>(null);
  proposals = $state<Proposal[]>([]);
  busy = $state(false);
  trouble = $state("");
  faults = $state.raw<Fault[]>([]);
  #turn = 0;

  constructor(readonly name: () => string) {}

  // Takes a pasted or dropped piece. A second piece of the same kind replaces the first.
  async add(text: string, piece: Piece = pieceOf(text)) {
    this.pieces[piece] = text;
    if (this.pieces.html.trim()) await this.read();
  }

  async remove(piece: Piece) {
    this.pieces[piece] = "";
    if (piece == "html") {
      this.#turn++;
      this.taken = null;
      this.part = "";
    } else if (this.pieces.html.trim()) await this.read();
  }

  async read() {
    const mine = ++this.#turn;
    this.trouble = "";
    this.busy = true;
    try {
      const copies = Object.values(this.copies).map(({ address, path, base64 }) => ({ address, path, base64 }));
      const taken = await api.importPage({ name: this.name() || "page", html: pageOf(this.pieces), part: this.part, copies, keep: this.keep, leave: this.leave });
      if (mine != this.#turn) return;
      this.taken = taken;
      // What the author has decided already stays.
      const before = this.proposals;
      this.proposals = proposals(textsOf(taken)).map((p) => {
        const old = before.find((o) => o.key == p.key && o.found.text == p.found.text && o.places[0]?.path == p.places[0]?.path);
        return old ? { ...p, label: old.label, taken: old.taken, kind: p.kinds.includes(old.kind) ? old.kind : p.kind } : p;
      });
    } catch (error) {
      if (mine != this.#turn) return;
      session.expire(error);
      this.trouble = error instanceof Refused ? `${error.message} ${error.faults[0]?.fix ?? error.hint}` : String(error);
      this.taken = null;
    } finally {
      if (mine == this.#turn) this.busy = false;
    }
  }

  // The files with the accepted settings, or why they cannot be made.
  files(): ImportedPage["files"] | string {
    const taken = this.taken!;
    const made = settled(textsOf(taken), $state.snapshot(this.proposals) as Proposal[]);
    return typeof made == "string" ? made : taken.files.map((f) => (made[f.path] === undefined ? f : { path: f.path, text: made[f.path] }));
  }

  again() {
    this.#turn++;
    this.taken = null;
    this.part = "";
    this.copies = {};
    this.keep = [];
    this.pieces = { html: "", css: "", js: "" };
  }

  // Provides a file for an address that the page loads.
  async bring(address: string, kind: string, file: File) {
    const taken = new Set(Object.values(this.copies).map((c) => c.path));
    const clean = nameFrom(file.name.replace(/\.[^.]*$/, ""));
    const ending = (/\.([a-z0-9]+)$/i.exec(file.name)?.[1] ?? "").toLowerCase();
    const folder = kind == "style" || kind == "script" ? "" : "assets/";
    let path = `${folder}${clean}.${ending}`;
    for (let n = 2; taken.has(path) || path == "mount.js"; n++) path = `${folder}${clean}-${n}.${ending}`;
    this.copies[address] = { address, path, base64: await base64Of(file), name: file.name };
    this.keep = this.keep.filter((k) => k != address);
    await this.read();
  }

  async drop(address: string) {
    delete this.copies[address];
    await this.read();
  }

  async keeps(address: string, on: boolean) {
    this.keep = on ? [...this.keep, address] : this.keep.filter((k) => k != address);
    await this.read();
  }

  async fixes(kind: string, on: boolean) {
    this.leave = on ? this.leave.filter((l) => l != kind) : [...this.leave, kind];
    await this.read();
  }

  async choose(part: string) {
    this.part = part;
    await this.read();
  }
}
