// State of the preview: its conditions, the pocket's preview cases, and the settings behind
// selected parts.
import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Look, Preview, Previewed, PreviewCase, Setting } from "../api/types";
import { frameIn, hostOf, type Conditions } from "./conditions";
import type { Draft } from "./draft.svelte";
import { affects, makers, type Maker } from "./made";
import { Stage, type Made } from "./stage";

export class Sight {
  conditions = $state<Conditions>({});
  cases = $state<PreviewCase[]>([]);
  sheet = $state(false); // all cases side by side
  pointing = $state(false);
  over = $state.raw<Maker[]>([]); // the settings behind the part under the pointer
  chosen = $state.raw<Maker[]>([]); // and behind the selected part
  fault = $state(""); // why the widget's script stopped
  trouble = $state(""); // why nothing could be drawn
  drawn = $state(0);
  height = $state(200);
  long = $state(false); // the page can be scrolled
  live = $state(false); // without the widget's sample content
  trying = $state.raw<{ key: string; values: unknown[] } | null>(null); // items of a source that is not connected yet
  shown = $state.raw<Previewed | null>(null);
  stage = new Stage();
  onchoose: (made: Maker[]) => void = () => {};
  #drawing: AbortController | undefined;
  #before: number | undefined; // the width before editing for small screens

  constructor(
    readonly key: string,
    readonly draft: Draft,
    readonly settings: () => Setting[],
  ) {
    const stage = this.stage;
    stage.ondrawn = () => {
      this.fault = "";
      this.drawn++;
    };
    stage.onheight = (height) => (this.height = Math.ceil(height));
    stage.onerror = (what) => (this.fault = what);
    stage.onover = (made) => (this.over = made ? this.#makers(made) : []);
    stage.onchosen = (made) => {
      this.chosen = this.#makers(made);
      if (this.chosen.length) this.onchoose(this.chosen);
    };
  }

  #makers(made: Made[]): Maker[] {
    const found = makers(made, this.shown?.parts ?? [], this.settings(), this.#length).slice(0, 12);
    // The item may be sorted, or after hidden ones.
    return found.map((m) => (m.item === undefined ? m : { ...m, item: this.shown?.shown?.[m.key]?.[m.item] ?? m.item }));
  }

  point(on: boolean) {
    this.pointing = on;
    this.over = [];
    this.stage.point(on);
  }

  // Outlines what a setting made, or one item of it; null for nothing.
  outline(setting: Setting | null, nth?: number) {
    const at = setting && nth !== undefined ? (this.shown?.shown?.[setting.key]?.indexOf(nth) ?? nth) : -1;
    const item = setting && at >= 0 ? { nth: at, of: this.#length(setting.key) } : undefined;
    this.stage.show(setting && this.shown ? affects(setting, this.shown.parts, item) : null);
  }

  // The number of visible items in a list.
  #length = (key: string) => this.shown?.shown?.[key]?.length ?? ((this.draft.get(key) ?? this.settings().find((s) => s.key == key)?.default ?? []) as unknown[]).length;

  // Changes some conditions; undefined restores the default.
  see(change: Partial<Conditions>) {
    const next: Record<string, unknown> = { ...this.conditions, ...change };
    for (const key in next) if (!next[key]) delete next[key];
    this.conditions = next as Conditions;
    if ("width" in change) this.#before = undefined;
    if (Object.keys(change).some((key) => key != "width")) void this.draw();
  }

  apply(which: Conditions) {
    this.conditions = { ...which };
    this.#before = undefined;
    this.sheet = false;
    void this.draw();
  }

  // While somebody edits a value for small screens, the page has their width.
  small(on: boolean) {
    if (on && this.#before === undefined && !(this.conditions.width && this.conditions.width <= 600)) {
      this.#before = this.conditions.width ?? 0;
      this.conditions = { ...this.conditions, width: 360 };
    } else if (!on && this.#before !== undefined) {
      const { width: _, ...rest } = this.conditions;
      this.conditions = this.#before ? { ...rest, width: this.#before } : rest;
      this.#before = undefined;
    }
  }

  // The conditions for the service; the frame simulates the others.
  #asked = ({ language, turned, content, moment }: Conditions) => JSON.parse(JSON.stringify({ language, turned, content, moment })) as Conditions;

  render(which: Conditions, signal?: AbortSignal) {
    const sources = { ...(this.draft.about.sources as Preview["sources"]) };
    const settings = { ...this.draft.sound };
    if (this.trying) {
      delete sources[this.trying.key];
      settings[this.trying.key] = this.trying.values;
    }
    return api.preview(this.key, { settings: settings as Preview["settings"], sources, conditions: this.#asked(which), ...(this.live ? { live: true } : {}) }, signal);
  }

  // Draws the draft as in the form. A later call replaces one that is running.
  async draw(again = false): Promise<void> {
    this.#drawing?.abort();
    const mine = (this.#drawing = new AbortController());
    const which = $state.snapshot(this.conditions) as Conditions;
    try {
      const shown = await this.render(which, mine.signal);
      if (mine.signal.aborted) return;
      this.shown = shown;
      this.trouble = "";
      this.stage.draw(shown, hostOf(which, this.long), frameIn(which, shown), again);
    } catch (error) {
      if (mine.signal.aborted) return;
      if (error instanceof Refused && error.faults.some((f) => f.field && !this.draft.faulty(f.field))) {
        this.draft.refused(error.faults);
        return this.draw(again); // without the invalid value
      }
      this.trouble = explain(error);
    }
  }

  // Whether the preview shows the widget's sample for a setting.
  sampled = (key: string) => !!this.shown?.samples?.includes(key);

  // Shows the sample content, or only what visitors would see.
  samples(on: boolean) {
    this.live = !on;
    void this.draw();
  }

  // Shows items in place of a list's own, or the list again.
  try(items: { key: string; values: unknown[] } | null) {
    if (!items && !this.trying) return;
    this.trying = items;
    void this.draw();
  }

  restyle(look: Look) {
    this.stage.restyle(look);
  }

  async loadCases() {
    this.cases = (await api.previewCases(this.key)).cases;
  }

  async keep(name: string) {
    await api.savePreviewCase(this.key, name, $state.snapshot(this.conditions) as Conditions);
    await this.loadCases();
  }

  async drop(name: string) {
    await api.deletePreviewCase(this.key, name);
    this.cases = this.cases.filter((c) => c.name != name);
    if (this.cases.length == 0) this.sheet = false;
  }

  close() {
    this.#drawing?.abort();
    this.stage.close();
  }
}
