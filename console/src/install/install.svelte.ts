// State of the installation: the host, the place on the page, the delivery, and the preview on a
// page.
import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Guided, Handover, Host, Hosts, Offer, Placing, TriedOn } from "../api/types";

export interface Wish {
  host: string;
  where: string;
  delivery: string; // "" for the best
  placing: Placing;
}

// The last choices for a pocket are stored in this browser.
const kept = (key: string) => `install:${key}`;

// The sample page, until the customer enters a page.
const sample = `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>A page</title><style>
body{margin:0;background:#fff;color:#26323f;font:17px/1.65 system-ui,"Noto Sans",sans-serif}main{max-width:44rem;margin:0 auto;padding:40px 24px}h1{font-size:32px;line-height:1.2;margin:0 0 14px}
.bar{display:block;height:13px;margin:0 0 11px;border-radius:7px;background:#e6ebef}aside{max-width:44rem;margin:0 auto;padding:0 24px 40px}</style></head><body><main><h1>A page like yours</h1><p>The text before the widget.</p><p>The text after the widget.</p>
<i class="bar"></i><i class="bar" style="width:92%"></i><i class="bar" style="width:74%"></i></main><aside><p>The side column.</p></aside></body></html>`;

export class Installing {
  hosts = $state.raw<Host[]>([]);
  words = $state.raw<Record<string, string>>({}); // labels of the wishes, by name
  wish = $state<Wish>({ host: "", where: "", delivery: "", placing: {} });
  guided = $state.raw<Guided | null>(null);
  trouble = $state("");
  page = $state({ address: "", html: "", spot: -1 });
  tried = $state.raw<TriedOn | null>(null);
  trying = $state(false);
  tryTrouble = $state<{ what: string; hint: string } | null>(null);
  still = $state(false);
  width = $state(0); // of the frame, in CSS pixels; 0 for the available width
  handovers = $state.raw<Handover[]>([]);
  made = $state.raw<Handover | null>(null); // the one that was just created, with its link
  busy = $state(false);
  arrived = $state(0); // counts the times that the steps were asked for by publishing
  onplace: () => void = () => {}; // called when a place was chosen, or tried on the customer's page
  drawnFor = 0; // number of the publication that the steps were requested for
  copied = $state(""); // the text that is on the clipboard
  marked = $state(""); // the text to select, because the browser refused to copy it
  #turn = 0;
  #later: ReturnType<typeof setTimeout> | undefined;
  #abort: AbortController | undefined;

  constructor(readonly key: string) {
    try {
      const left = JSON.parse(localStorage.getItem(kept(key)) ?? "{}");
      this.wish = { host: left.host ?? "", where: left.where ?? "", delivery: left.delivery ?? "", placing: left.placing ?? {} };
      this.page.address = left.address ?? "";
    } catch {} // unreadable storage counts as empty
  }

  host = $derived(this.hosts.find((h) => h.name == this.wish.host));
  offers = $derived<Offer[]>(this.guided ? [...(this.guided.choice.best ? [this.guided.choice.best] : []), ...this.guided.choice.others] : []);
  // Whether the customer's page is shown, not the sample.
  own = $derived(!!(this.page.address.trim() || this.page.html.trim()));

  // Loads the hosts, once.
  async names() {
    if (this.hosts.length) return;
    const found: Hosts = await api.hosts();
    this.hosts = found.hosts;
    this.words = found.wheres;
    if (this.wish.host && !this.host) this.wish.host = "";
  }

  async load() {
    try {
      await this.names();
      if (this.wish.host) await this.draw();
    } catch (error) {
      this.trouble = explain(error);
    }
  }

  #keep() {
    try {
      localStorage.setItem(kept(this.key), JSON.stringify({ ...$state.snapshot(this.wish), address: this.page.address }));
    } catch {} // it is only a convenience
  }

  choose(change: Partial<Wish>) {
    // Another host has other places and deliveries.
    if (change.host !== undefined && change.host != this.wish.host) change = { where: "", delivery: "", ...change };
    if (change.where !== undefined && change.where != this.wish.where) change = { delivery: "", ...change };
    Object.assign(this.wish, change);
    this.page.spot = -1;
    void this.draw().then(() => this.guided?.guide && this.onplace());
  }

  place(change: Partial<Placing>) {
    this.wish.placing = Object.fromEntries(Object.entries({ ...this.wish.placing, ...change }).filter(([, v]) => v)) as Placing;
    clearTimeout(this.#later);
    this.#later = setTimeout(() => this.draw(), 250);
  }

  // Requests the choice and the steps, then the page.
  async draw(): Promise<void> {
    if (await this.guide()) await this.try();
  }

  // Requests the choice and the steps. Returns false if the request failed or a newer one replaced it.
  async guide(): Promise<boolean> {
    if (!this.wish.host) return false;
    const mine = ++this.#turn;
    this.#keep();
    try {
      const guided = await api.guide(this.key, $state.snapshot(this.wish));
      if (mine != this.#turn) return false;
      this.guided = guided;
      this.wish.where = guided.install.where ?? "";
      this.trouble = "";
    } catch (error) {
      if (mine != this.#turn) return false;
      // The last choice may not exist any more, if the profile or the widget changed.
      if (error instanceof Refused && (error.code == "delivery-unfit" || error.code == "where-unknown") && (this.wish.delivery || this.wish.where)) {
        this.wish.delivery = this.wish.where = "";
        return this.guide();
      }
      this.trouble = explain(error);
      return false;
    }
    return true;
  }

  async try() {
    if (!this.guided?.guide || (this.guided.guide.offer.delivery == "sealed" && !this.guided.sealed)) {
      this.tried = null;
      return;
    }
    this.#keep();
    this.#abort?.abort();
    const { signal } = (this.#abort = new AbortController());
    this.trying = true;
    this.tryTrouble = null;
    const address = this.page.address.trim();
    const html = this.page.html.trim();
    try {
      const ask = { install: $state.snapshot(this.wish), ...(this.page.spot >= 0 ? { spot: this.page.spot } : {}) };
      this.tried = await api.tryOn(this.key, html ? { ...ask, html } : address ? { ...ask, address } : { ...ask, html: sample }, signal);
      if (address && !html) this.onplace();
    } catch (error) {
      if (signal.aborted) return;
      this.tried = null;
      const e = error as { message: string; hint?: string };
      this.tryTrouble = { what: e.message, hint: e.hint ?? "" };
    }
    this.trying = false;
  }

  async seal() {
    this.busy = true;
    try {
      await api.seal(this.key);
      await this.draw();
    } catch (error) {
      this.trouble = explain(error);
    }
    this.busy = false;
  }

  async loadHandovers() {
    this.handovers = (await api.handovers(this.key)).handovers;
  }

  async handOver(note: string) {
    this.made = await api.handOver(this.key, $state.snapshot(this.wish), note);
    this.handovers = (await api.handovers(this.key)).handovers;
  }

  async revokeHandover(id: number) {
    await api.revokeHandover(this.key, id);
    this.handovers = (await api.handovers(this.key)).handovers;
  }

  close() {
    clearTimeout(this.#later);
    this.#abort?.abort();
  }
}

// The visitors' view, in words for people who do not read code.
export const shows: Record<string, string> = {
  widget: "the widget on the page",
  frame: "the widget in a frame",
  boxed: "the widget in the host's frame",
  screen: "the widget on a page of fixed size",
  still: "a still version without scripts",
  form: "a plain form",
  mail: "a table with text and an image",
  link: "a link to it",
  astray: "the widget at the end of the page",
  address: "its address as text",
  nothing: "nothing",
  code: "the code as text",
};
