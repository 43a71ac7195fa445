// State of a pocket's draft: changes show at once, are stored in this browser at each keystroke and
// at the service soon after, and can be undone step by step. Changes that somebody else saved are
// merged setting by setting; nothing is overwritten silently.
import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Draft as Saved, Fault, Setting } from "../api/types";
import { same } from "../same";
import { session } from "../session/session.svelte";
import { extras, extrasOf } from "./extras";
import { journal } from "./journal";
import { History, type Change } from "./undo.svelte";

export type Values = Record<string, unknown>;

// A path in a draft: a setting's key, "small/KEY" for its value on small screens, and
// "pocket/title", "pocket/language" or "pocket/starter".
export type Path = string;

// Both changed the same setting: the user decides.
export interface Collision {
  path: Path;
  theirs: unknown; // undefined if they deleted the value
  by: string;
}

const quiet = 500; // milliseconds without typing before saving
const again = 3000; // milliseconds before the next attempt without a response

export class Draft {
  values = $state<Values>({}); // the values that are set; all others come from default or sample
  about = $state<Values>({}); // title, language, starter and extras
  faults = $state<Record<string, Fault>>({});
  state = $state<"saved" | "waiting" | "saving" | "faulty" | "collided" | "refused" | "away">("saved");
  trouble = $state(""); // why saving failed, if no single setting is the cause
  aside = $state<string[]>([]); // settings of another release, which are kept and hidden
  collisions = $state<Collision[]>([]);
  history = new History();
  revision = 0;
  notice: (what: string) => void = () => {};
  onchange: (paths: Path[]) => void = () => {}; // called after changes that the preview must show
  onsaved: () => void = () => {};
  onback: () => void = () => {}; // called when the service responds again

  #base: Values = {}; // the service's values, by path
  #pending = new Set<Path>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #last: Promise<void> | undefined;
  #closed = false;
  #away = false; // the last request had no response

  constructor(
    readonly key: string,
    readonly label: (path: Path) => string,
    readonly setting: (path: Path) => Setting | undefined,
  ) {}

  // Starts with the service's values, and restores changes that were not saved when the page was
  // closed.
  start(saved: Saved) {
    this.#record(saved);
    this.values = saved.settings as Values;
    this.about = { title: saved.title, language: saved.language, starter: saved.starter ?? "", ...extrasOf(saved) };
    const left = journal.read(this.key);
    const back: Path[] = [];
    for (const { path, value, base } of left) {
      if (same(value, this.#base[path])) continue;
      if (same(base, this.#base[path])) {
        this.#put(path, value);
        this.#pending.add(path);
        back.push(path);
      } else {
        this.#put(path, value);
        this.#pending.add(path);
        this.collisions.push({ path, theirs: this.#base[path], by: saved.changedBy ?? "somebody else" });
      }
    }
    if (back.length) this.notice(`Restored your unsaved changes: ${this.#labels(back)}.`);
    if (left.length) this.#later(quiet);
  }

  #labels = (paths: Path[]) => paths.map((p) => this.label(p)).join(", ");

  // Records the service's values.
  #record(saved: Saved) {
    this.revision = saved.revision;
    const { small, ...rest } = saved.settings as Values;
    this.#base = rest;
    for (const [key, value] of Object.entries((small as Values) ?? {})) this.#base["small/" + key] = value;
    this.#base["pocket/title"] = saved.title;
    this.#base["pocket/language"] = saved.language;
    this.#base["pocket/starter"] = saved.starter ?? "";
    for (const [key, value] of Object.entries(extrasOf(saved))) this.#base["pocket/" + key] = value;
    if (saved.aside) this.aside = saved.aside;
  }

  get small(): Values {
    return (this.values.small as Values | undefined) ?? {};
  }

  // The value at a path; undefined if none is set.
  get(path: Path): unknown {
    const [head, key] = path.split("/");
    return head == "small" ? this.small[key] : head == "pocket" ? this.about[key] : this.values[path];
  }

  #put(path: Path, value: unknown) {
    const [head, key] = path.split("/");
    if (head == "pocket") this.about[key] = value;
    else if (head == "small") {
      const small = { ...this.small };
      if (value === undefined) delete small[key];
      else small[key] = value;
      this.values.small = small;
    } else if (value === undefined) delete this.values[path];
    else this.values[path] = value;
  }

  // Makes a change, as one step of undo. null deletes a value.
  set(path: Path, value: unknown) {
    this.change(this.label(path), { [path]: value });
  }

  locked: () => boolean = () => false; // whether the draft is read-only

  // Makes several changes as one step.
  change(label: string, wanted: Record<Path, unknown>, alone = false) {
    if (this.locked()) return;
    const changes: Change[] = [];
    for (const [path, given] of Object.entries(wanted)) {
      const after = given === null ? undefined : given;
      const before = $state.snapshot(this.get(path));
      if (!same(before, after)) changes.push({ path, before, after: $state.snapshot(after) });
    }
    if (changes.length == 0) return;
    this.history.add(label, changes, alone);
    this.#apply(changes.map(({ path, after }) => [path, after]));
  }

  #apply(list: [Path, unknown][]) {
    for (const [path, value] of list) {
      for (const at in this.faults) if (at == path || at.startsWith(path + "/")) delete this.faults[at];
      this.#put(path, value);
      this.#pending.add(path);
      this.#inspect(path, value);
    }
    this.state = this.#away ? "away" : "waiting";
    this.onchange(list.map(([path]) => path));
    // Later, because nothing else may delay painting.
    queueMicrotask(() => this.#write());
    this.#later(quiet);
  }

  // Checks what needs no request: a text that is far too long is not sent at each keystroke.
  #inspect(path: Path, value: unknown) {
    const most = this.setting(path)?.maxLength;
    if (typeof value != "string" || !most) return;
    const length = value.length > 4 * most ? value.length : [...value].length;
    if (length > most) {
      const n = (count: number) => count.toLocaleString("en");
      this.faults[path] = { code: "value-length", field: path, what: `${n(length)} characters; the limit is ${n(most)}.`, fix: `Delete ${n(length - most)}. Nothing is cut off automatically.` } as Fault;
    }
  }

  undo() {
    this.#turn(this.history.back(), "before", "after", "Undone");
  }

  redo() {
    this.#turn(this.history.forth(), "after", "before", "Redone");
  }

  #turn(step: { label: string; changes: Change[] } | undefined, to: "before" | "after", from: "before" | "after", said: string) {
    if (!step) return;
    // Values that another tab or person has changed since stay.
    const mine = step.changes.filter((c) => same($state.snapshot(this.get(c.path)), c[from]));
    const others = step.changes.filter((c) => !mine.includes(c));
    this.#apply(mine.map((c) => [c.path, c[to]]));
    if (others.length) this.notice(`${this.#labels(others.map((c) => c.path))} was changed elsewhere and is not affected.`);
    this.said = `${said}: ${step.label}.`;
  }
  said = $state(""); // what undo did, for screen readers

  faulty(path: Path) {
    return Object.keys(this.faults).some((at) => at == path || at.startsWith(path + "/"));
  }

  #collided = (path: Path) => this.collisions.some((c) => c.path == path);

  // The values for the preview: invalid ones are replaced by the last valid ones.
  get sound(): Values {
    const wrong = [...this.#pending].filter((path) => this.faulty(path) && !path.startsWith("pocket/"));
    if (wrong.length == 0) return this.values;
    const values: Values = { ...this.values, small: { ...this.small } };
    for (const path of wrong) {
      const [head, key] = path.split("/");
      const [into, at] = head == "small" ? [values.small as Values, key] : [values, path];
      if (path in this.#base) into[at] = this.#base[path];
      else delete into[at];
    }
    return values;
  }

  #write() {
    journal.write(
      this.key,
      [...this.#pending].map((path) => ({ path, value: this.get(path), base: this.#base[path] })),
    );
  }

  #later(wait: number) {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.save(), wait);
  }

  // Saves the changes. Values that the service refuses stay in the form, marked.
  save(): Promise<void> {
    clearTimeout(this.#timer);
    return this.#next(() => this.#now());
  }

  // One request at a time, so that no late response replaces a newer one.
  #next(what: () => Promise<void>): Promise<void> {
    this.#last = (this.#last ?? Promise.resolve()).then(what);
    return this.#last;
  }

  async #now(): Promise<void> {
    const ready = [...this.#pending].filter((path) => !this.faulty(path) && !this.#collided(path));
    if (ready.length == 0) return this.#settle();
    if (!this.#away) this.state = "saving";
    const sent = new Map(ready.map((path) => [path, $state.snapshot(this.get(path))]));
    try {
      await this.#send(sent);
      this.trouble = "";
      this.#answered();
      this.#settle();
    } catch (first) {
      let error = first;
      if (error instanceof Refused && error.code == "draft-changed") {
        try {
          return await this.#rebase();
        } catch (second) {
          error = second; // the other person's changes could not be loaded
        }
      }
      session.expire(error);
      if (error instanceof Refused && error.faults.some((f) => f.field)) {
        const before = Object.keys(this.faults).length;
        this.refused(error.faults);
        if (Object.keys(this.faults).length > before) return this.#now(); // the other changes can still be saved
      } else this.trouble = explain(error);
      this.#settle();
      if (error instanceof Refused && (error.status == 0 || error.status >= 500)) {
        this.#away = true;
        this.state = "away";
        if (!this.#closed) this.#later(again);
      }
    }
  }

  #answered() {
    if (!this.#away) return;
    this.#away = false;
    this.trouble = "";
    this.onback();
  }

  refused(faults: Fault[]) {
    for (const fault of faults) if (fault.field) this.faults[fault.field] = fault;
  }

  #settle() {
    const left = [...this.#pending];
    this.state = left.length == 0 ? "saved" : left.some(this.#collided) ? "collided" : left.every((path) => this.faulty(path)) ? "faulty" : this.trouble ? "refused" : "waiting";
    this.#write();
  }

  async #send(sent: Map<Path, unknown>) {
    const change: Values = {};
    const about: Record<string, unknown> = {};
    for (const [path, value] of sent) {
      const [head, key] = path.split("/");
      if (head == "pocket") about[key] = key in extras ? value : String(value);
      else if (head == "small") change.small = { ...((change.small as Values) ?? {}), [key]: value ?? null };
      else change[path] = value ?? null;
    }
    for (const [it, save] of [
      [change, () => api.changeDraft(this.key, this.revision, change)],
      [about, () => api.changePocket(this.key, this.revision, about)],
    ] as const) {
      if (Object.keys(it).length == 0) continue;
      const saved = await save();
      this.#record(saved);
      this.onsaved();
    }
    for (const [path, value] of sent) if (same($state.snapshot(this.get(path)), value)) this.#pending.delete(path);
  }

  // Somebody else saved first: merges their changes with these. Where both changed the same, the
  // user decides.
  async #rebase() {
    const saved = await api.draft(this.key);
    this.#answered();
    const before = this.#base;
    this.#record(saved);
    const by = saved.changedBy || "Somebody";
    const taken: Path[] = [];
    for (const path of new Set([...Object.keys(before), ...Object.keys(this.#base)])) {
      const theirs = this.#base[path];
      if (same(before[path], theirs)) continue;
      const mine = $state.snapshot(this.get(path));
      if (!this.#pending.has(path)) {
        this.#put(path, theirs);
        taken.push(path);
      } else if (same(mine, theirs)) this.#pending.delete(path);
      else if (!this.#collided(path)) this.collisions.push({ path, theirs, by });
      else this.collisions = this.collisions.map((c) => (c.path == path ? { ...c, theirs, by } : c));
    }
    const shown = taken.filter((path) => this.setting(path) || path.startsWith("pocket/"));
    if (shown.length) this.notice(`${by} also changed this draft. Added from them: ${this.#labels(shown)}.`);
    if (taken.length) this.onchange(taken);
    await this.#now();
  }

  // Checks for other people's changes when nothing else is under way.
  refresh(): Promise<void> {
    return this.#next(() => this.#look());
  }

  async #look() {
    if (this.#pending.size || this.#closed) return;
    try {
      const saved = await api.draft(this.key);
      if (saved.revision != this.revision && this.#pending.size == 0) await this.#rebase();
    } catch {
      // The next save reports it.
    }
  }

  // Resolves a collision with this form's value or the other person's. Either can be undone.
  decide(path: Path, mine: boolean) {
    const collision = this.collisions.find((c) => c.path == path)!;
    this.collisions = this.collisions.filter((c) => c.path != path);
    if (!mine) this.change(`using ${collision.by}'s version of  ${this.label(path)}`, { [path]: collision.theirs ?? null }, true);
    void this.save();
  }

  get unsaved() {
    return this.#pending.size > 0;
  }

  close() {
    this.#closed = true;
    void this.save();
  }
}
