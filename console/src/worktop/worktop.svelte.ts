import { api, Refused } from "../api/client";
import type { Fault, Element as Piece, Origin, Release, Shown, Tried, TriedWidget, WidgetDraft } from "../api/types";
import { session } from "../session/session.svelte";
import { casesOf, type PreviewCase } from "./cases";
import { onlyRule, readSheet, type Sheet } from "./css";
import { difference, Folder } from "./folder.svelte";
import { Frame, type Part, type Said } from "./frame";
import { valueAt, type Found } from "./refactor/find";
import { keysOf } from "./refactor/setting";
import { Saving } from "./saving.svelte";
import { Script, type At } from "./script";

export interface Message {
  level: Said["level"];
  text: string;
  at: At | null;
  times: number;
  of: string; // label of the case that it came from
}

const mostMessages = 300;
const considered = 350; // milliseconds without typing, then everything is checked

// A widget being made: its files, its previews, what is wrong with it.
export class Worktop {
  readonly folder = new Folder();
  readonly saving: Saving;
  error = $state<Error | null>(null); // nothing can be edited
  trouble = $state(""); // what has failed, besides saving
  notice = $state(""); // something that has happened, to be read out
  widget = $state.raw<TriedWidget | null>(null);
  elements = $state.raw<Piece[]>([]);
  elementsOf = $state(""); // the view that elements are of
  showing = $state(false); // whether there is anything to see
  checked = $state.raw<Fault[]>([]); // what the last check said
  tried = $state.raw<Fault[]>([]); // what the last rendering said
  sound = $state(false); // whether it could be released
  messages = $state<Message[]>([]);
  pointing = $state(true);
  part = $state.raw<Part | null>(null);
  over = $state("");
  sheet = $state.raw<Sheet>({ text: "", rules: [], tops: [] });
  starter = $state("");
  language = $state(""); // the widget's first when ""
  cases = $derived.by(() => casesOf(this.widget));
  current = $state("usual");
  beside = $state(false); // all cases side by side
  stuck = $state(false); // the script did not come back
  onkey: (key: string) => void = () => {}; // pressed in a preview
  readonly vocabulary = worktopVocabulary(this);
  origin = $state.raw<Origin | null>(null); // when it is a copy of what has changed since
  releasedKeys = $state.raw<string[]>([]); // settings that the newest release has
  // A value that is to become a setting, where a box asks for the rest.
  found = $state.raw<Found | null>(null);
  painted = 0; // milliseconds from an order to the frame's paint, the newest

  #frames = new Map<string, Frame>(); // by case
  #scripts = new Map<string, Script>();
  #trying: AbortController | undefined;
  #checking: AbortController | undefined;
  #checkTimer: ReturnType<typeof setTimeout> | undefined;
  #shown = new Map<string, Shown>();

  constructor(
    readonly name: string,
    readonly publicBase: string,
  ) {
    this.saving = new Saving(name, this.folder, (what) => (this.notice = what));
    this.folder.onchange = (paths) => this.#changed(paths);
  }

  async load() {
    this.error = null;
    try {
      this.saving.draft = await api.widgetDraft(this.name);
      this.folder.load(this.saving.draft.files ?? []);
      this.#restyle();
      this.saving.recover();
      await Promise.all([this.try(), this.check()]);
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
    this.folder.change(`taking over what has changed in ${widget}`, Object.fromEntries(files.filter((f) => f.base64 === undefined).map((f) => [f.path, f.removed ? null : (f.text ?? "")])));
    if (binary.length) void this.upload(binary.map((f) => ({ path: f.path, base64: f.base64! })));
    this.notice = `What has changed in ${widget} is taken over.`;
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
      this.trouble = error instanceof Refused ? `${error.faults[0]?.what ?? error.message} ${error.faults[0]?.mend ?? error.hint}` : String(error);
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
      this.trouble = error instanceof Refused ? `${error.message} ${error.hint}` : String(error);
    }
  }

  released(release: Release) {
    this.saving.draft = { ...this.saving.draft!, release: release.number };
    this.releasedKeys = keysOf(this.files);
    this.notice = `Release ${release.number} is made.`;
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

  // The texts of all files, as they stand here.
  get files(): Record<string, string> {
    return Object.fromEntries(this.folder.paths.filter((p) => !this.folder.entries[p].binary).map((p) => [p, this.folder.text(p)]));
  }

  get faults(): Fault[] {
    const seen = new Set<string>();
    return [...this.tried, ...this.checked].filter((f) => {
      const key = [f.path, f.line, f.column, f.code, f.what].join();
      return !seen.has(key) && !!seen.add(key);
    });
  }

  get shownCases(): PreviewCase[] {
    return this.beside ? this.cases : [this.cases.find((c) => c.id == this.current) ?? this.cases[0]];
  }

  // The frame that shows a case.
  frame(which: PreviewCase): Frame {
    const frame = new Frame();
    this.#frames.set(which.id, frame);
    frame.onpart = (part) => {
      this.part = part;
      if (this.beside) for (const [id, other] of this.#frames) if (id != which.id) other.show(null);
    };
    frame.onover = (over) => (this.over = over ? `<${over.name}>` : "");
    frame.onsaid = (said) => this.#said(said, which);
    frame.onpainted = (ms) => (this.painted = ms);
    frame.onkey = (key) => this.onkey(key);
    frame.onstuck = (begun) => this.#stop(begun);
    frame.point(this.pointing);
    const shown = this.#shown.get(which.id);
    if (shown) this.#draw(which, shown);
    return frame;
  }

  unframe(which: PreviewCase, frame: Frame) {
    frame.close();
    if (this.#frames.get(which.id) == frame) this.#frames.delete(which.id);
  }

  point(on: boolean) {
    this.pointing = on;
    for (const frame of this.#frames.values()) frame.point(on);
    if (!on) this.over = "";
  }

  // Chooses an element of the view, as if it had been pointed at.
  choose(mark: number) {
    const frame = this.#frames.get(this.current) ?? this.#frames.values().next().value;
    frame?.choose(mark);
  }

  // Asks to make a setting of what a selection in a file holds; says why when it cannot be one.
  makeSetting(path: string, from: number, to: number) {
    const found = valueAt(this.files, path, from, to);
    if (typeof found == "string") this.notice = found;
    else this.found = found;
  }

  // Outlines an element of the view, null for what is chosen.
  outline(mark: number | null) {
    for (const frame of this.#frames.values()) frame.show(mark);
  }

  unchoose() {
    this.part = null;
    for (const frame of this.#frames.values()) frame.choose(-1);
  }

  show(id: string) {
    this.current = id;
    this.beside = false;
    this.part = null;
    void this.try();
  }

  besides(on: boolean) {
    this.beside = on;
    this.part = null;
    void this.try();
  }

  begin(starter: string) {
    this.starter = starter;
    void this.try();
  }

  speak(language: string) {
    this.language = language;
    void this.try();
  }

  #attempts = 0;
  // The frames are taken out of the page, which ends what runs in them. A browser may take a
  // moment for that, and a new frame waits for it; so one that never came is tried again.
  #stop(begun: boolean) {
    this.stuck = true;
    if (begun) this.#attempts = 0;
    else if (this.#attempts++ < 20) setTimeout(() => this.revive(), 500);
  }

  // Runs the script again after it has been stopped.
  revive() {
    this.stuck = false;
    void this.try();
  }

  #changed(paths: string[]) {
    // A change of style is painted here and now; nothing is asked of the service.
    if (paths.includes("style.css")) this.#restyle();
    this.saving.changed();
    if (paths.some((p) => p != "style.css")) {
      this.stuck = false;
      void this.try();
    }
    clearTimeout(this.#checkTimer);
    this.#checkTimer = setTimeout(() => this.check(), considered);
  }

  #restyle() {
    const before = this.sheet;
    this.sheet = readSheet(this.folder.text("style.css"));
    const only = onlyRule(before, this.sheet);
    for (const frame of this.#frames.values()) frame.restyle(this.sheet, only);
  }

  // Renders the files as they stand here. A later call replaces one under way.
  async try() {
    this.#trying?.abort();
    const mine = (this.#trying = new AbortController());
    const cases = this.shownCases;
    const view = this.folder.text("view.html");
    try {
      const tried = await api.tryWidgetDraft(
        this.name,
        this.folder.unsaved,
        cases.map((c) => ({ language: this.language, ...c.ask, starter: this.starter })),
        mine.signal,
      );
      if (mine.signal.aborted) return;
      this.#take(tried, cases, view);
    } catch (error) {
      if (mine.signal.aborted) return;
      session.ended(error);
      this.trouble = error instanceof Refused ? `${error.message} ${error.hint}` : String(error);
    }
  }

  #take(tried: Tried, cases: PreviewCase[], view: string) {
    this.trouble = "";
    this.tried = [...tried.faults, ...tried.shown.flatMap((s) => s.faults ?? [])];
    if (!tried.widget) return; // what was seen last stays
    this.widget = tried.widget;
    const chosen = this.#followed(tried.elements, view);
    this.elements = tried.elements;
    this.elementsOf = view;
    cases.forEach((c, i) => {
      const shown = tried.shown[i];
      if (!shown?.payload) return;
      this.showing = true;
      const script = this.#script(shown, tried.map ?? "");
      this.#shown.set(c.id, shown);
      this.#scripts.set(c.id, script);
      this.#draw(c, shown, chosen);
    });
  }

  // Which element of the new view the chosen one of the old is.
  #followed(elements: Piece[], view: string): number | null {
    const mark = this.part?.steps.find((s) => s.mark !== null)?.mark;
    const old = mark == null ? undefined : this.elements[mark];
    if (!old) return null;
    const { from, to, insert } = difference(this.elementsOf, view);
    const start = old.start < from ? old.start : old.start >= to ? old.start + insert.length - (to - from) : from;
    const found = elements.findIndex((e) => e.start == start);
    return found < 0 ? null : found;
  }

  #lastScript: { code: string; map: string; script: Script } | undefined;
  #script(shown: Shown, map: string): Script {
    const code = shown.script ?? "";
    if (this.#lastScript?.code != code || this.#lastScript.map != map) this.#lastScript = { code, map, script: new Script(code, shown.scriptLine, map) };
    return this.#lastScript.script;
  }

  #draw(which: PreviewCase, shown: Shown, chosen: number | null = null) {
    this.#frames.get(which.id)?.draw({
      draw: shown.payload as never,
      script: this.#scripts.get(which.id)?.text ?? "",
      sheet: this.sheet.text,
      rules: this.sheet.rules.length,
      host: which.host,
      chosen,
    });
  }

  #said(said: Said, which: PreviewCase) {
    const at = this.originOf(said.stack, which.id);
    const last = this.messages[this.messages.length - 1];
    if (last && last.text == said.text && last.level == said.level && last.at?.line == at?.line) last.times++;
    else {
      this.messages.push({ level: said.level, text: said.text, at, times: 1, of: which.label });
      if (this.messages.length > mostMessages) this.messages.shift();
    }
  }

  originOf(stack: Said["stack"], id = this.current): At | null {
    const script = this.#scripts.get(id) ?? this.#scripts.values().next().value;
    for (const spot of stack) {
      const at = script?.origin(spot);
      if (at && this.folder.has(at.path)) return at;
    }
    return null;
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
    if (what) this.notice = `Done again: ${what}.`;
  }

  close() {
    this.#changes?.close();
    for (const frame of this.#frames.values()) frame.close();
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
