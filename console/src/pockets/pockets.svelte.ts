// State of the list of pockets: search, filters, order, and the selection for jobs.
import { api } from "../api/client";
import { explain } from "../api/refused";
import type { NewJob, Pocket } from "../api/types";
import { session } from "../session/session.svelte";
import { Jobs } from "./jobs.svelte";

export const states: [string, string][] = [
  ["", "Any state"],
  ["unpublished", "Not published"],
  ["published", "Published"],
  ["changed", "Draft changed"],
  ["withheld", "Withheld"],
];
export const orders: [string, string][] = [
  ["-changed", "Newest changes first"],
  ["changed", "Oldest changes first"],
  ["title", "Title, A to Z"],
  ["-title", "Title, Z to A"],
  ["key", "Key"],
];

interface List {
  search: string;
  customer: string;
  widget: string;
  state: string;
  behind: boolean;
}

const anything: List = { search: "", customer: "", widget: "", state: "", behind: false };

export class PocketsInReach {
  pockets = $state<Pocket[]>([]);
  names = $state<Record<string, string>>({}); // of customers, by ID
  widgets = $state<{ name: string; title: string; floats: boolean }[]>([]);
  list = $state<List>({ ...anything });
  order = $state("-changed");
  next = $state<string | undefined>();
  loading = $state(true);
  error = $state<Error | null>(null);
  picked = $state<Record<string, boolean>>({});
  all = $state(false); // the whole list is selected, including what is not shown
  trouble = $state("");
  jobs = new Jobs(() => this.load());
  #turn = 0;
  #waiting: ReturnType<typeof setTimeout> | undefined;

  narrowed = $derived(JSON.stringify(this.list) != JSON.stringify(anything));
  count = $derived(Object.values(this.picked).filter(Boolean).length);

  async start() {
    try {
      this.widgets = (await api.widgets()).widgets.map((w) => ({ name: w.name, title: w.title.en ?? w.name, floats: w.floats })).sort((a, b) => a.title.localeCompare(b.title));
    } catch (error) {
      session.expire(error);
    }
    void this.jobs.load();
  }

  name = (id: string) => this.names[id] ?? id;
  title = (widget: string) => this.widgets.find((w) => w.name == widget)?.title ?? widget;

  #query() {
    const { behind, ...texts } = this.list;
    const query: Record<string, string> = { order: this.order };
    for (const [key, value] of Object.entries(texts)) if (value.trim()) query[key] = value.trim();
    if (behind) query.behind = "true";
    return query;
  }

  async load() {
    const mine = ++this.#turn;
    this.error = null;
    this.next = undefined; // a cursor is only valid for its list
    try {
      const page = await api.pockets(this.#query());
      if (mine != this.#turn) return; // another list was requested
      this.pockets = page.pockets;
      this.names = page.customers;
      this.next = page.next;
      this.#unpick();
    } catch (error) {
      session.expire(error);
      if (mine == this.#turn) this.error = error as Error;
    } finally {
      if (mine == this.#turn) this.loading = false;
    }
  }

  // Deselects what is no longer shown, so that nobody acts on pockets that they do not see.
  #unpick() {
    this.all = false;
    const shown = new Set(this.pockets.map((p) => p.key));
    for (const key of Object.keys(this.picked)) if (!shown.has(key)) delete this.picked[key];
  }

  narrow(change: Partial<List>, wait = 0) {
    Object.assign(this.list, change);
    clearTimeout(this.#waiting);
    this.#waiting = setTimeout(() => this.load(), wait);
  }

  widen() {
    this.narrow({ ...anything });
  }

  async more() {
    const cursor = this.next;
    if (!cursor) return;
    this.next = undefined; // requested once
    const mine = ++this.#turn;
    this.trouble = "";
    try {
      const page = await api.pockets(this.#query(), cursor);
      if (mine != this.#turn) return; // another list was requested
      this.pockets.push(...page.pockets);
      Object.assign(this.names, page.customers);
      this.next = page.next;
    } catch (error) {
      session.expire(error);
      if (mine != this.#turn) return;
      this.next = cursor; // to be requested again
      this.trouble = explain(error);
    }
  }

  pick(on: boolean) {
    this.all = false;
    this.picked = on ? Object.fromEntries(this.pockets.map((p) => [p.key, true])) : {};
  }

  // Starts a job for the selected pockets, or for the whole list.
  async do(job: Partial<NewJob> & { does: string }) {
    this.trouble = "";
    try {
      const { search, customer, widget, state, behind } = this.list;
      const which = this.all ? { list: { search: search.trim(), customer, widget, state, behind } } : { keys: Object.keys(this.picked).filter((key) => this.picked[key]) };
      await this.jobs.start({ ...which, ...job } as NewJob);
      this.pick(false);
    } catch (error) {
      this.trouble = explain(error);
    }
  }

  // Exports the selected pockets as a list of pocket files.
  async export() {
    this.trouble = "";
    const files = [];
    try {
      for (const key of Object.keys(this.picked)) if (this.picked[key]) files.push(await api.exportPocket(key, true));
    } catch (error) {
      session.expire(error);
      this.trouble = explain(error);
      return;
    }
    const text = JSON.stringify(files.length == 1 ? files[0] : files, null, 1);
    const link = document.createElement("a");
    link.href = URL.createObjectURL(new Blob([text], { type: "application/json" }));
    link.download = files.length == 1 ? `${files[0].key}.pocket.json` : "pockets.json";
    link.click();
    setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
  }

  async import(file: File, customer: string) {
    this.trouble = "";
    try {
      const read = JSON.parse(await file.text());
      await this.jobs.start({ does: "import", customer, files: Array.isArray(read) ? read : [read] } as NewJob);
      this.pick(false);
    } catch (error) {
      this.trouble = error instanceof SyntaxError ? `${file.name} is not a JSON file. Choose an exported file, unchanged.` : explain(error);
    }
  }
}
