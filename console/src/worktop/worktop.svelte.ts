import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Fault, Origin, Release, PreviewedFolder } from "../api/types";
import { session } from "../session/session.svelte";
import { Folder } from "./folder.svelte";
import { Previews } from "./previews.svelte";
import { valueAt, type Found } from "./refactor/find";
import { keysOf } from "./refactor/setting";
import { Saving } from "./saving.svelte";

const considered = 350; // milliseconds without typing before everything is checked

// State of a widget on the worktop: its files, its previews, its faults.
export class Worktop {
  readonly folder = new Folder();
  readonly saving: Saving;
  readonly previews: Previews;
  error = $state<Error | null>(null); // loading failed, so nothing can be edited
  trouble = $state(""); // what failed, other than saving
  justReleased = $state(0); // number of the release that was just made
  notice = $state(""); // an event, for screen readers
  checked = $state.raw<Fault[]>([]); // faults of the last check
  sound = $state(false); // whether it can be released
  readonly vocabulary = worktopVocabulary(this);
  origin = $state.raw<Origin | null>(null); // for a copy: the changes in the original since
  releasedKeys = $state.raw<string[]>([]); // keys of the newest release's settings
  // A value that should become a setting; a dialog asks for the rest.
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
      session.expire(error);
      this.error = error as Error;
    }
  }

  // Loads additional information, for which nothing waits.
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

  // Merges the changes in the widget from which this was copied, as one step of undo.
  mergeOrigin() {
    const { widget, files } = this.origin!;
    const binary = files.filter((f) => f.base64 !== undefined);
    this.folder.change(`merging changes of ${widget}`, Object.fromEntries(files.filter((f) => f.base64 === undefined).map((f) => [f.path, f.removed ? null : (f.text ?? "")])));
    if (binary.length) void this.upload(binary.map((f) => ({ path: f.path, base64: f.base64! })));
    this.notice = `Merged the changes of ${widget}.`;
    this.origin = null;
  }

  // Stores files that are not text. This cannot be undone; they have to be deleted.
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
      session.expire(error);
      this.trouble = error instanceof Refused ? `${error.faults[0]?.what ?? error.message} ${error.faults[0]?.fix ?? error.hint}` : String(error);
    }
  }

  // Downloads the whole folder as a zip file, as it is here.
  async download() {
    try {
      await this.saving.save();
      if (this.saving.state != "saved") return; // the reason is shown already
      const { file, base64 } = await api.packWidgetDraft(this.name);
      const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(new Blob([bytes], { type: "application/zip" }));
      link.download = file;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), 60_000);
    } catch (error) {
      session.expire(error);
      this.trouble = explain(error);
    }
  }

  released(release: Release) {
    this.saving.draft = { ...this.saving.draft!, release: release.number };
    this.releasedKeys = keysOf(this.files);
    this.justReleased = release.number;
    this.notice = `Made release ${release.number}.`;
    void api.widgetDraft(this.name).then((d) => (this.saving.draft = d));
  }

  #changes: EventSource | undefined;
  gone = $state(false); // the client that served the folder does not respond
  // Loads changes that other programs make to the folder.
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
    changes.onerror = () => (this.gone = true); // the browser reconnects by itself
  }

  // The declarations in the last rendering.
  get widget(): PreviewedFolder | null {
    return this.previews.widget;
  }

  // The texts of all files, as they are here.
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

  // Asks to make a setting from the selection in a file, or reports why that is impossible.
  makeSetting(path: string, from: number, to: number) {
    const found = valueAt(this.files, path, from, to);
    if (typeof found == "string") this.notice = found;
    else this.found = found;
  }

  #changed(paths: string[]) {
    // A change of the style is painted at once, without a request.
    if (paths.includes("style.css")) this.previews.restyle();
    this.saving.changed();
    if (paths.some((p) => p != "style.css")) this.previews.revive();
    clearTimeout(this.#checkTimer);
    this.#checkTimer = setTimeout(() => this.check(), considered);
  }

  // Reports everything that is wrong with the files as they are here.
  async check() {
    this.#checking?.abort();
    const mine = (this.#checking = new AbortController());
    try {
      const checked = await api.checkWidgetDraft(this.name, this.folder.unsaved, mine.signal);
      if (mine.signal.aborted) return;
      this.checked = checked.faults;
      this.sound = !!checked.widget;
    } catch (error) {
      if (!mine.signal.aborted) session.expire(error);
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
