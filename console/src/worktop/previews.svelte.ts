// State of the frames that show a widget under development in one or all cases: what they draw, the
// selected part, and the script's output.
import { api } from "../api/client";
import { explain } from "../api/refused";
import type { Element as Piece, Fault, Shown, PreviewedWidget, PreviewedFolder } from "../api/types";
import { session } from "../session/session.svelte";
import { casesOf, type PreviewCase } from "./cases";
import { onlyRule, readSheet, type Sheet } from "./css";
import { difference, type Folder } from "./folder.svelte";
import { Frame, type Part, type Said } from "./frame";
import { Script, type At } from "./script";

export interface Message {
  level: Said["level"];
  text: string;
  at: At | null;
  times: number;
  of: string; // label of its case
}

const mostMessages = 300;

// All previews of a widget.
export class Previews {
  trouble = $state(""); // why nothing could be rendered
  widget = $state.raw<PreviewedFolder | null>(null);
  elements = $state.raw<Piece[]>([]);
  elementsOf = $state(""); // the view of elements
  showing = $state(false); // whether there is anything to see
  tried = $state.raw<Fault[]>([]); // faults of the last rendering
  messages = $state<Message[]>([]);
  pointing = $state(true);
  part = $state.raw<Part | null>(null);
  over = $state("");
  sheet = $state.raw<Sheet>({ text: "", rules: [], tops: [] });
  starter = $state("");
  language = $state(""); // "" for the widget's first
  cases = $derived.by(() => casesOf(this.widget));
  current = $state("usual");
  beside = $state(false); // all cases side by side
  stuck = $state(false); // the script did not respond
  onkey: (key: string) => void = () => {}; // called for a key pressed in a preview
  painted = 0; // milliseconds from the last order to the frame's paint


  #frames = new Map<string, Frame>(); // by case
  #scripts = new Map<string, Script>();
  #trying: AbortController | undefined;
  #shown = new Map<string, Shown>();

  constructor(
    readonly name: string,
    readonly folder: Folder,
  ) {}

  get shownCases(): PreviewCase[] {
    return this.beside ? this.cases : [this.cases.find((c) => c.id == this.current) ?? this.cases[0]];
  }

  // The frame of a case.
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

  // Selects an element of the view, like a click on it.
  choose(mark: number) {
    const frame = this.#frames.get(this.current) ?? this.#frames.values().next().value;
    frame?.choose(mark);
  }

  // Outlines an element of the view, null for the selected one.
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

  start(starter: string) {
    this.starter = starter;
    void this.try();
  }

  speak(language: string) {
    this.language = language;
    void this.try();
  }

  #attempts = 0;
  // Removes the frames from the page, which ends their scripts. Browsers may need a moment for
  // that, and a new frame waits for it, so a frame that never responded is tried again.
  #stop(begun: boolean) {
    this.stuck = true;
    if (begun) this.#attempts = 0;
    else if (this.#attempts++ < 20) setTimeout(() => this.revive(), 500);
  }

  // Runs the script again after it was stopped.
  revive() {
    this.stuck = false;
    void this.try();
  }

  restyle() {
    const before = this.sheet;
    this.sheet = readSheet(this.folder.text("style.css"));
    const only = onlyRule(before, this.sheet);
    for (const frame of this.#frames.values()) frame.restyle(this.sheet, only);
  }

  // Renders the files as they are here. A later call replaces one that is running.
  async try() {
    this.#trying?.abort();
    const mine = (this.#trying = new AbortController());
    const cases = this.shownCases;
    const view = this.folder.text("view.html");
    try {
      const tried = await api.previewWidgetDraft(
        this.name,
        this.folder.unsaved,
        cases.map((c) => ({ language: this.language, ...c.ask, starter: this.starter })),
        mine.signal,
      );
      if (mine.signal.aborted) return;
      this.#accept(tried, cases, view);
    } catch (error) {
      if (mine.signal.aborted) return;
      session.expire(error);
      this.trouble = explain(error);
    }
  }

  #accept(tried: PreviewedWidget, cases: PreviewCase[], view: string) {
    this.trouble = "";
    this.tried = [...tried.faults, ...tried.shown.flatMap((s) => s.faults ?? [])];
    if (!tried.widget) return; // keep the last rendering
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

  // Finds the selected element of the old view in the new one.
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

  close() {
    this.#trying?.abort();
    for (const frame of this.#frames.values()) frame.close();
  }
}
