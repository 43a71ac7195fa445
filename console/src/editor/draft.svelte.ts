// A pocket's draft being edited: what is typed shows at once, is kept in this browser at each
// keystroke and at the service soon after, and can be undone step by step. What somebody else
// has saved meanwhile is brought together setting by setting; nothing is overwritten silently.
import { api } from "../api/client";
import { Refused, told } from "../api/refused";
import type { Draft as Saved, Fault, Setting } from "../api/types";
import { same } from "../same";
import { session } from "../session/session.svelte";
import { journal } from "./journal";
import { History, type Change } from "./undo.svelte";

export type Values = Record<string, unknown>;

// Where something stands in a draft: a setting's key, "small/KEY" for its value on small
// screens, and "pocket/title", "pocket/language" or "pocket/starter".
export type Path = string;

// Changed in both the same: which counts is for a person to say.
export interface Collision {
  path: Path;
  theirs: unknown; // undefined when they took the value away
  by: string;
}

const quiet = 500; // milliseconds without typing, then it is saved
const again = 3000; // milliseconds until it is tried again when nobody has answered

export class Draft {
  values = $state<Values>({}); // what is set; the rest is default or sample
  about = $state<Values>({}); // title, language, starter, and where it shows
  faults = $state<Record<string, Fault>>({});
  state = $state<"saved" | "waiting" | "saving" | "faulty" | "collided" | "refused" | "away">("saved");
  trouble = $state(""); // why saving failed, when it is no single setting's fault
  aside = $state<string[]>([]); // set under another release, kept, and not shown by this one
  collisions = $state<Collision[]>([]);
  history = new History();
  revision = 0;
  notice: (what: string) => void = () => {};
  onchange: (paths: Path[]) => void = () => {}; // shown again, whatever has changed it
  onsaved: () => void = () => {};
  onback: () => void = () => {}; // the service answers again

  #base: Values = {}; // as the service has it, by path
  #pending = new Set<Path>();
  #timer: ReturnType<typeof setTimeout> | undefined;
  #last: Promise<void> | undefined;
  #closed = false;
  #away = false; // the service did not answer the last time

  constructor(
    readonly key: string,
    readonly label: (path: Path) => string,
    readonly setting: (path: Path) => Setting | undefined,
  ) {}

  // Begins with what the service has; what was typed before the page closed and never arrived
  // comes back on top.
  begin(saved: Saved) {
    this.#take(saved);
    this.values = saved.settings as Values;
    this.about = { title: saved.title, language: saved.language, starter: saved.starter ?? "", cues: saved.cues ?? {} };
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

  // Notes what the service has.
  #take(saved: Saved) {
    this.revision = saved.revision;
    const { small, ...rest } = saved.settings as Values;
    this.#base = rest;
    for (const [key, value] of Object.entries((small as Values) ?? {})) this.#base["small/" + key] = value;
    this.#base["pocket/title"] = saved.title;
    this.#base["pocket/language"] = saved.language;
    this.#base["pocket/starter"] = saved.starter ?? "";
    this.#base["pocket/cues"] = saved.cues ?? {};
    if (saved.aside) this.aside = saved.aside;
  }

  get small(): Values {
    return (this.values.small as Values | undefined) ?? {};
  }

  // What stands at a path; undefined where nothing is set.
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

  // Takes a change in: one step of undo. null takes a value away.
  set(path: Path, value: unknown) {
    this.change(this.label(path), { [path]: value });
  }

  locked: () => boolean = () => false; // whether nothing may be changed

  // Several changes as one step.
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
    // Nothing else may hold up what is to be painted.
    queueMicrotask(() => this.#write());
    this.#later(quiet);
  }

  // What can be told without the service: a text that is far too long is not sent to and fro at
  // each keystroke.
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
    // What has become something else since, by another tab or another person, stays.
    const mine = step.changes.filter((c) => same($state.snapshot(this.get(c.path)), c[from]));
    const others = step.changes.filter((c) => !mine.includes(c));
    this.#apply(mine.map((c) => [c.path, c[to]]));
    if (others.length) this.notice(`${this.#labels(others.map((c) => c.path))} was changed elsewhere and is not affected.`);
    this.said = `${said}: ${step.label}.`;
  }
  said = $state(""); // what undo has done, to be read out

  faulty(path: Path) {
    return Object.keys(this.faults).some((at) => at == path || at.startsWith(path + "/"));
  }

  #collided = (path: Path) => this.collisions.some((c) => c.path == path);

  // The values without those that are known to be wrong, which the preview cannot take: for
  // these what was there before.
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

  // Saves what the service does not have. What it refuses stays in the form, marked.
  save(): Promise<void> {
    clearTimeout(this.#timer);
    return this.#next(() => this.#now());
  }

  // One asks the service at a time, so that no late answer takes a newer one back.
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
          error = second; // what the other has saved could not be read
        }
      }
      session.ended(error);
      if (error instanceof Refused && error.faults.some((f) => f.field)) {
        const before = Object.keys(this.faults).length;
        this.refused(error.faults);
        if (Object.keys(this.faults).length > before) return this.#now(); // the others can still be saved
      } else this.trouble = told(error);
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
      if (head == "pocket") about[key] = key == "cues" ? value : String(value);
      else if (head == "small") change.small = { ...((change.small as Values) ?? {}), [key]: value ?? null };
      else change[path] = value ?? null;
    }
    for (const [it, save] of [
      [change, () => api.changeDraft(this.key, this.revision, change)],
      [about, () => api.changePocket(this.key, this.revision, about)],
    ] as const) {
      if (Object.keys(it).length == 0) continue;
      const saved = await save();
      this.#take(saved);
      this.onsaved();
    }
    for (const [path, value] of sent) if (same($state.snapshot(this.get(path)), value)) this.#pending.delete(path);
  }

  // Somebody else saved first: theirs is taken in, ours stays on top, and where both have
  // changed the same a person decides.
  async #rebase() {
    const saved = await api.draft(this.key);
    this.#answered();
    const before = this.#base;
    this.#take(saved);
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

  // Looks whether somebody else has changed the draft, when there is time for it.
  refresh(): Promise<void> {
    return this.#next(() => this.#look());
  }

  async #look() {
    if (this.#pending.size || this.#closed) return;
    try {
      const saved = await api.draft(this.key);
      if (saved.revision != this.revision && this.#pending.size == 0) await this.#rebase();
    } catch {
      // It is told when there is something to save.
    }
  }

  // Ends a collision: with what is here, or with what the other has saved. Either can be undone.
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
