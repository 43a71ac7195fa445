import { api } from "../api/client";
import { Refused, told } from "../api/refused";
import type { Fault, Origin, Release, PreviewedFolder } from "../api/types";
import { session } from "../session/session.svelte";
import { Folder } from "./folder.svelte";
import { Previews } from "./previews.svelte";
import { valueAt, type Found } from "./refactor/find";
import { keysOf } from "./refactor/setting";
import { Saving } from "./saving.svelte";

const considered = 350; // milliseconds without typing, then everything is checked

// A widget being made: its files, its previews, what is wrong with it.
export class Worktop {
  readonly folder = new Folder();
  readonly saving: Saving;
  readonly previews: Previews;
  error = $state<Error | null>(null); // nothing can be edited
  trouble = $state(""); // what has failed, besides saving
  notice = $state(""); // something that has happened, to be read out
  checked = $state.raw<Fault[]>([]); // what the last check said
  sound = $state(false); // whether it could be released
  readonly vocabulary = worktopVocabulary(this);
  origin = $state.raw<Origin | null>(null); // when it is a copy of what has changed since
  releasedKeys = $state.raw<string[]>([]); // settings that the newest release has
  // A value that is to become a setting, where a box asks for the rest.
  found = $state.raw<Found | null>(null);
  #checking: AbortController | undefined;
  #checkTimer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly name: string,
    readonly publicBase: string,
  ) {
    this.saving = new Saving(name, this.folder, (what) => (this.notice = what));
    this.previews = new Previews(name, this.folder);
    this.saving.onback = () => void this.previews.try();
    this.folder.onchange = (paths) => this.#changed(paths);
  }

  async load() {
    this.error = null;
    try {
      this.saving.draft = await api.widgetDraft(this.name);
      this.folder.load(this.saving.draft.files ?? []);
      this.previews.restyle();
      this.saving.recover();
      await Promise.all([this.previews.try(), this.check()]);
      this.#follow();
      void this.#ask();
    } catch (error) {
      session.ended(error);
      this.error = error as Error;
    }
  }

  // What is good to know, and nothing waits for.
  async #ask() {
    if (session.who?.folder) return;
    if (this.folder.text("widget.json").includes('"copyOf"')) {
      const origin = await api.origin(this.name).catch(() => null);
      this.origin = origin && origin.newest != origin.release ? origin : null;
    }
    if (this.saving.draft!.release) {
      const files = await api.releaseFiles(this.name, this.saving.draft!.release).catch(() => null);
      this.releasedKeys = keysOf({ "settings.json": files?.files.find((f) => f.path == "settings.json")?.text ?? "" });
    }
  }

  // Takes over what has changed in the widget that this is a copy of: one step, to be undone.
  takeOver() {
    const { widget, files } = this.origin!;
    const binary = files.filter((f) => f.base64 !== undefined);
    this.folder.change(`merging changes of ${widget}`, Object.fromEntries(files.filter((f) => f.base64 === undefined).map((f) => [f.path, f.removed ? null : (f.text ?? "")])));
    if (binary.length) void this.upload(binary.map((f) => ({ path: f.path, base64: f.base64! })));
    this.notice = `Merged the changes of ${widget}.`;
    this.origin = null;
  }

  // Keeps files that are not text; there is no undoing, they have to be removed again.
  async upload(files: { path: string; base64: string }[]) {
    try {
      await this.saving.save();
      const draft = await api.changeWidgetDraft(
        this.name,
        files.map((f) => ({ ...f, was: this.folder.entries[f.path]?.digest ?? "" })),
      );
      this.saving.draft = draft;
      this.folder.refresh(draft.files ?? []);
      this.trouble = "";
    } catch (error) {
      session.ended(error);
      this.trouble = error instanceof Refused ? `${error.faults[0]?.what ?? error.message} ${error.faults[0]?.fix ?? error.hint}` : String(error);
    }
  }

  // Gives the whole folder as a zip file, as it stands here.
  async download() {
    try {
      await this.saving.save();
      if (this.saving.state != "saved") return; // why is said already
      const { file, base64 } = await api.packWidgetDraft(this.name);
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([bytes], { type: "application/zip" }));
      link.download = file;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    } catch (error) {
      session.ended(error);
      this.trouble = told(error);
    }
  }

  released(release: Release) {
    this.saving.draft = { ...this.saving.draft!, release: release.number };
    this.releasedKeys = keysOf(this.files);
    this.notice = `Made release ${release.number}.`;
    void api.widgetDraft(this.name).then((d) => (this.saving.draft = d));
  }

  #changes: EventSource | undefined;
  gone = $state(false); // whoever served the folder does not answer
  // Takes in what other programs make of a folder as they save it.
  #follow() {
    if (!session.who?.folder) return;
    const changes = (this.#changes = api.watchWidgetDraft(this.name));
    const take = async () => {
      this.gone = false;
      try {
        const draft = await api.widgetDraft(this.name);
        if (draft.revision == this.saving.draft!.revision) return;
        this.saving.draft = draft;
        const mine = this.folder.unsaved;
        this.folder.refresh((draft.files ?? []).filter((f) => !mine.some((m) => m.path == f.path)));
      } catch {
        this.gone = true;
      }
    };
    changes.addEventListener("change", take);
    changes.addEventListener("ready", take);
    changes.onerror = () => (this.gone = true); // it is asked again by itself
  }

  // What the last rendering knew of it.
  get widget(): PreviewedFolder | null {
    return this.previews.widget;
  }

  // The texts of all files, as they stand here.
  get files(): Record<string, string> {
    return Object.fromEntries(this.folder.paths.filter((p) => !this.folder.entries[p].binary).map((p) => [p, this.folder.text(p)]));
  }

  get faults(): Fault[] {
    const seen = new Set<string>();
    return [...this.previews.tried, ...this.checked].filter((f) => {
      const key = [f.path, f.line, f.column, f.code, f.what].join();
      return !seen.has(key) && !!seen.add(key);
    });
  }

  // Asks to make a setting of what a selection in a file holds; says why when it cannot be one.
  makeSetting(path: string, from: number, to: number) {
    const found = valueAt(this.files, path, from, to);
    if (typeof found == "string") this.notice = found;
    else this.found = found;
  }

  #changed(paths: string[]) {
    // A change of style is painted here and now; nothing is asked of the service.
    if (paths.includes("style.css")) this.previews.restyle();
    this.saving.changed();
    if (paths.some((p) => p != "style.css")) this.previews.revive();
    clearTimeout(this.#checkTimer);
    this.#checkTimer = setTimeout(() => this.check(), considered);
  }

  // Says everything that is wrong with the files as they stand here.
  async check() {
    this.#checking?.abort();
    const mine = (this.#checking = new AbortController());
    try {
      const checked = await api.checkWidgetDraft(this.name, this.folder.unsaved, mine.signal);
      if (mine.signal.aborted) return;
      this.checked = checked.faults;
      this.sound = !!checked.widget;
    } catch (error) {
      if (!mine.signal.aborted) session.ended(error);
    }
  }

  undo() {
    const what = this.folder.undo();
    if (what) this.notice = `Undone: ${what}.`;
  }

  redo() {
    const what = this.folder.redo();
    if (what) this.notice = `Redone: ${what}.`;
  }

  close() {
    this.#changes?.close();
    this.previews.close();
    clearTimeout(this.#checkTimer);
    this.saving.close();
  }
}

const worktopVocabulary = (worktop: Worktop) => ({
  get widget() {
    return worktop.widget;
  },
  text: (path: string) => worktop.folder.text(path),
});
