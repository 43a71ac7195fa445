// Saves changes: in this browser at each keystroke, at the service soon after. Other people's
// changes are merged, or shown as collisions.
import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Fault, WidgetDraft } from "../api/types";
import { session } from "../session/session.svelte";
import { both } from "./both";
import type { Folder } from "./folder.svelte";
import { journal } from "./journal";

export interface Collision {
  path: string;
  base: string; // the text that both changed, "" if unknown
  theirs: string | null; // null if it was deleted
  by: string;
}

const quiet = 600; // milliseconds without typing before saving
const again = 3000; // milliseconds before the next attempt without a response

export class Saving {
  state = $state<"saved" | "waiting" | "saving" | "failed">("saved");
  trouble = $state(""); // why it failed
  collisions = $state<Collision[]>([]);
  draft = $state.raw<WidgetDraft | null>(null); // the service's last version
  onback: () => void = () => {}; // called when the service responds again
  #timer: ReturnType<typeof setTimeout> | undefined;
  #last: Promise<void> | undefined;
  #closed = false;

  constructor(
    readonly name: string,
    readonly folder: Folder,
    readonly notice: (what: string) => void,
  ) {}

  // Restores changes that were not saved when the page was closed.
  recover() {
    const left = journal.read(this.name);
    if (left.length == 0) return;
    this.folder.change("changes from before the page closed", Object.fromEntries(left.map((f) => [f.path, f.text])));
    this.notice(`Restored your unsaved changes: ${left.map((f) => f.path).join(", ")}.`);
    for (const f of left) {
      const entry = this.folder.entries[f.path];
      if (entry && entry.digest != f.was) Object.assign(entry, { digest: f.was, saved: "" }); // so that another person's change in between is noticed
    }
  }

  // Call it after each change of the folder.
  changed() {
    // Later, because nothing else may delay painting; still within this task.
    queueMicrotask(() => this.#write());
    this.#later(quiet);
  }

  #write() {
    const unsaved = this.folder.unsaved;
    journal.write(this.name, unsaved);
    this.state = unsaved.length ? "waiting" : "saved";
  }

  #later(wait: number) {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.save(), wait);
  }

  // Saves what the service does not have.
  save(): Promise<void> {
    clearTimeout(this.#timer);
    this.#last = (this.#last ?? Promise.resolve()).then(() => this.#now());
    return this.#last;
  }

  async #now() {
    const files = this.folder.unsaved;
    if (files.length == 0) {
      this.state = "saved";
      return;
    }
    this.state = "saving";
    const unanswered = new Map(this.folder.sent);
    for (const f of files) this.folder.sent.set(f.path, [...(unanswered.get(f.path) ?? []), f.removed ? null : f.text!]);
    try {
      const before = this.draft!.revision;
      const draft = await api.changeWidgetDraft(this.name, files);
      this.folder.sent.clear();
      this.#kept(files, draft);
      if (draft.revision > before + 1) this.#record(this.folder.refresh(draft.files ?? []), draft);
      if (this.trouble) this.onback();
      this.trouble = "";
    } catch (error) {
      session.expire(error);
      this.state = "failed";
      // Without a response, nobody knows whether the request arrived.
      const unknown = error instanceof Refused && (error.status == 0 || error.status >= 500);
      if (!unknown) this.folder.sent.clear();
      if (error instanceof Refused && error.code == "draft-changed") return this.#collided(error.faults, unanswered);
      this.trouble = explain(error);
      if (unknown && !this.#closed) this.#later(again);
    }
  }

  #kept(files: { path: string; text?: string; removed?: boolean }[], draft: WidgetDraft) {
    for (const f of files) {
      const entry = this.folder.entries[f.path];
      if (!entry) continue;
      if (f.removed) {
        if (entry.removed) delete this.folder.entries[f.path];
        else entry.digest = "";
        continue;
      }
      entry.saved = f.text ?? "";
      entry.digest = draft.files?.find((d) => d.path == f.path)?.digest ?? "";
    }
    this.draft = draft;
    this.#write();
  }

  #record(paths: string[], draft: WidgetDraft) {
    // The draft's own changedBy may be this user by now.
    const by = new Set(paths.map((p) => draft.files?.find((f) => f.path == p)?.changedBy ?? "Somebody"));
    if (paths.length) this.notice(`${[...by].join(" and ")} also ${by.size > 1 ? "edit" : "edits"} this widget. Added from them: ${paths.join(", ")}.`);
  }

  // Somebody else has changed the same files. Nothing is overwritten: collisions are shown.
  async #collided(faults: Fault[], unanswered: Map<string, (string | null)[]>) {
    const theirs = await api.widgetDraft(this.name);
    this.draft = theirs;
    // A request from here without a response had arrived, so that is nobody else's change.
    faults = faults.filter(({ path = "" }) => {
      const entry = this.folder.entries[path];
      const file = theirs.files?.find((t) => t.path == path);
      if (!entry || !unanswered.get(path)?.includes(file ? (file.text ?? "") : null)) return true;
      Object.assign(entry, { saved: file?.text ?? "", digest: file?.digest ?? "" });
      this.changed();
      return false;
    });
    // The other files have no collisions.
    const disputed = (path: string) => faults.some((f) => f.path == path);
    const taken = this.folder.refresh((theirs.files ?? []).map((t) => (disputed(t.path) ? { ...t, digest: this.folder.entries[t.path].digest } : t)));
    this.collisions = faults.flatMap((f) => {
      const file = theirs.files?.find((t) => t.path == f.path);
      const entry = this.folder.entries[f.path];
      const collision = { path: f.path, base: entry.saved, theirs: file ? (file.text ?? "") : null, by: file?.changedBy ?? theirs.changedBy };
      const merged = entry.removed || collision.theirs === null ? null : both(entry.saved, entry.text, collision.theirs);
      if (merged === null) return collision;
      taken.push(f.path);
      this.#settled(collision);
      this.folder.change(`merging changes of ${collision.by} in ${f.path}`, { [f.path]: merged });
      return [];
    });
    this.#record(taken, theirs);
  }

  // From now on, the changes here are based on the other person's version.
  #settled({ path, theirs }: Collision) {
    const entry = this.folder.entries[path];
    entry.digest = this.draft!.files?.find((f) => f.path == path)?.digest ?? "";
    entry.saved = theirs ?? "";
  }

  // Resolves a collision with the text here, or with the other person's. Either can be undone.
  settle(path: string, mine: boolean) {
    const collision = this.collisions.find((c) => c.path == path)!;
    const ours = this.folder.has(path) ? this.folder.text(path) : null;
    this.#settled(collision);
    this.folder.change(`using ${collision.by}'s version of  ${path}`, { [path]: collision.theirs });
    if (mine) this.folder.change(`keeping your version of ${path}`, { [path]: ours });
    this.collisions = this.collisions.filter((c) => c.path != path);
    if (this.collisions.length == 0) void this.save();
  }

  close() {
    this.#closed = true;
    void this.save();
  }
}
