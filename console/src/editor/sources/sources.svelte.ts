// State of the sources of one list: which ones it takes, its rules, and which items they give.
import { explain } from "../../api/refused";
import { sources as api } from "../../api/sources";
import type { Listing, Selection, Source, SourceItem } from "../../api/types";
import { count, nameOf } from "../../sources/words";
import type { PocketEditor } from "../editor.svelte";

const quiet = 150; // milliseconds without a change before the selection is requested

type Lists = Record<string, Listing>;

export class ListSources {
  known = $state.raw<Source[] | null>(null); // the customer's
  selection = $state.raw<Selection | null>(null);
  trouble = $state("");
  said = $state(""); // what happened, for everybody
  busy = $state(""); // ID of the source that is being refreshed
  #timer: ReturnType<typeof setTimeout> | undefined;
  #asking: AbortController | undefined;

  constructor(
    readonly editor: PocketEditor,
    readonly key: string,
  ) {}

  get list(): Listing {
    return ((this.editor.draft.about.sources ?? {}) as Lists)[this.key] ?? {};
  }

  get from(): { source: string; most?: number; it?: Source }[] {
    return (this.list.from ?? []).map((f) => ({ ...f, it: this.known?.find((s) => s.id == f.source) }));
  }

  // Changes some members of the list. Empty values are left out. Continuous typing is one step of
  // undo; everything else is a step of its own.
  set(change: Partial<Listing>, label = "Rules", typing = false) {
    const all = { ...($state.snapshot(this.editor.draft.about.sources ?? {}) as Lists) };
    const next = Object.fromEntries(Object.entries({ ...all[this.key], ...change }).filter(([, v]) => !empty(v))) as Listing;
    if (Object.keys(next).length) all[this.key] = next;
    else delete all[this.key];
    this.editor.draft.change(label, { "pocket/sources": all }, !typing);
  }

  async load() {
    try {
      this.known = await api.list(this.editor.pocket!.customer);
    } catch (error) {
      this.trouble = explain(error);
    }
  }

  // Requests the selection soon, for the list as it is in the form.
  look() {
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#select(), this.selection ? quiet : 0);
  }

  async #select() {
    this.#asking?.abort();
    const mine = (this.#asking = new AbortController());
    try {
      const found = await api.select(this.editor.key, this.key, { list: $state.snapshot(this.list) as Listing, settings: this.editor.draft.sound as never }, mine.signal);
      if (!mine.signal.aborted) [this.selection, this.trouble] = [found, ""];
    } catch (error) {
      if (!mine.signal.aborted) this.trouble = explain(error);
    }
  }

  add(source: Source) {
    if (!this.known?.some((s) => s.id == source.id)) this.known = [...(this.known ?? []), source].sort((a, b) => a.name.localeCompare(b.name));
    if (!this.list.from?.some((f) => f.source == source.id)) this.set({ from: [...(this.list.from ?? []), { source: source.id }] }, `Add ${source.name}`);
    this.said = `${source.name} is connected: ${count(source.items, "item")}.`;
  }

  remove(id: string) {
    this.set({ from: this.list.from?.filter((f) => f.source != id) }, "Remove a source");
    this.said = "The source is no longer used here. Undo brings it back.";
  }

  limit(id: string, most: number) {
    this.set({ from: this.list.from?.map((f) => (f.source == id ? { source: id, ...(most ? { most } : {}) } : f)) }, "Rules", true);
  }

  move(from: number, to: number) {
    const list = [...(this.list.from ?? [])];
    list.splice(to, 0, ...list.splice(from, 1));
    this.set({ from: list }, "Move a source");
  }

  async refresh(id: string) {
    this.busy = id;
    try {
      const { source, added, changed, removed, failed } = await api.refresh(id);
      this.known = (this.known ?? []).map((s) => (s.id == id ? source : s));
      this.said = failed ? `${source.name} could not be fetched. ${source.why}` : `${source.name}: ${added} new, ${changed} changed, ${removed} removed.`;
      this.look();
      void this.editor.sight.draw();
    } catch (error) {
      this.said = explain(error);
    }
    this.busy = "";
  }

  hidden = (id: string) => !!this.list.hidden?.includes(id);
  pinned = (id: string) => !!this.list.pinned?.includes(id);

  hide(it: SourceItem) {
    const on = !this.hidden(it.id);
    this.set({ hidden: toggled(this.list.hidden, it.id, on), pinned: toggled(this.list.pinned, it.id, false) }, `${on ? "Hide" : "Show"} ${nameOf(it)}`);
    this.said = on ? `${nameOf(it)} is hidden.` : `${nameOf(it)} is not hidden any more.`;
  }

  pin(it: SourceItem) {
    const on = !this.pinned(it.id);
    this.set({ pinned: toggled(this.list.pinned, it.id, on), hidden: toggled(this.list.hidden, it.id, false) }, `${on ? "Pin" : "Do not pin"} ${nameOf(it)}`);
    this.said = on ? `${nameOf(it)} comes first.` : `${nameOf(it)} is not pinned any more.`;
  }

  correct(id: string, field: string, value: string | null) {
    const all = { ...($state.snapshot(this.list.corrections ?? {}) as Record<string, Record<string, unknown>>) };
    const { [field]: _, ...rest } = all[id] ?? {};
    all[id] = value === null ? rest : { ...rest, [field]: value };
    if (!Object.keys(all[id]).length) delete all[id];
    this.set({ corrections: all }, "Correct an item");
  }

  close() {
    clearTimeout(this.#timer);
    this.#asking?.abort();
  }
}

const toggled = (list: string[] | undefined, id: string, on: boolean) => [...(list ?? []).filter((has) => has != id), ...(on ? [id] : [])];

function empty(v: unknown): boolean {
  if (Array.isArray(v)) return v.length == 0;
  if (v && typeof v == "object") return Object.values(v).every(empty);
  return v === undefined || v === null || v === "" || v === 0 || v === false;
}
