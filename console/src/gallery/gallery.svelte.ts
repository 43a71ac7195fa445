// What there is to begin with, and how each starter looks.
import { api } from "../api/client";
import type { Gallery as Found, GalleryPreviews, GalleryWidget, Payload } from "../api/types";
import { session } from "../session/session.svelte";
import { matches } from "../ui/search";
import { GalleryFrame } from "./frame";

export interface Card {
  id: string; // of the widget and its starter
  widget: GalleryWidget;
  starter: string;
  title: string;
  summary: string;
}

// What there is, and the pictures of each widget on their way.
async function ask(customer: string) {
  const found = await api.gallery();
  const coming = found.widgets.map((widget) => ({ name: widget.name, asked: api.galleryPreviews(widget.name, customer) }));
  for (const { asked } of coming) asked.catch(() => {}); // told by whoever waits for it
  return { found, coming };
}

// Asked for before the page is drawn, when that is where somebody comes first.
let ahead = globalThis.location?.pathname == "/gallery" ? ask("") : undefined;
ahead?.catch(() => {}); // likewise

const patience = 150; // milliseconds that the cards wait for the frame

export class Gallery {
  found = $state.raw<Found | null>(null);
  error = $state<Error | null>(null);
  search = $state(new URLSearchParams(globalThis.location?.search).get("search") ?? "");
  purpose = $state(""); // "" for all
  drawn = $state<Record<string, boolean>>({});
  heights = $state.raw<Record<string, number>>({}); // of what is drawn, in CSS pixels
  laidOut = $state(0); // how many are, in sight or not
  frame = new GalleryFrame();
  payloads = new Map<string, Payload>();

  constructor(readonly customer = "") {
    this.frame.ondrawn = (id) => (this.drawn[id] = true);
    this.frame.onheights = (found) => {
      if (Object.entries(found).some(([id, height]) => this.heights[id] != height)) this.heights = { ...this.heights, ...found };
    };
    this.frame.onlaidout = (count) => (this.laidOut = count);
  }

  cards = $derived.by(() => {
    const text = this.search.trim();
    return (this.found?.widgets ?? []).flatMap((widget) => {
      if (this.purpose && widget.purpose != this.purpose) return [];
      const starters = widget.starters.length ? widget.starters : [{ name: "", title: widget.title, summary: widget.summary }];
      return starters
        .filter((s) => !text || matches(text, [s.title, s.summary, "search" in s ? s.search : undefined, widget.title, widget.summary, widget.search, widget.name, this.#label(widget.purpose)]))
        .map((s): Card => ({ id: `${widget.name}/${s.name}`, widget, starter: s.name, title: s.title.en ?? s.name, summary: s.summary?.en ?? "" }));
    });
  });

  // Draws the starters of a widget, as soon as they are there.
  async #draw(name: string, asked: Promise<GalleryPreviews>) {
    const { previews } = await asked;
    const list = previews.map((p) => ({ id: `${name}/${p.starter}`, payload: p.payload }));
    for (const { id, payload } of list) this.payloads.set(id, payload);
    this.frame.draw(list);
  }

  #label = (purpose: string) => this.found?.purposes.find((p) => p.name == purpose)?.label;

  async load() {
    this.error = null;
    try {
      const asked = (!this.customer && ahead) || ask(this.customer);
      ahead = undefined;
      const { found, coming } = await asked;
      // The frame draws beside this page, and takes longest: what it draws is on its way before the
      // cards are made. They do not wait for long.
      const drawing = Promise.all(coming.map(({ name, asked }) => this.#draw(name, asked)));
      await Promise.race([Promise.all([drawing, this.frame.ready]), new Promise((on) => setTimeout(on, patience))]);
      this.found = found;
      await drawing;
    } catch (error) {
      session.ended(error);
      this.error = error as Error;
    }
  }
}
