// State of the gallery: the starters and their previews.
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

// The gallery, and pending requests for each widget's previews.
async function ask(customer: string) {
  const found = await api.gallery();
  const coming = found.widgets.map((widget) => ({ name: widget.name, asked: api.galleryPreviews(widget.name, customer) }));
  for (const { asked } of coming) asked.catch(() => {}); // whoever waits for it reports the error
  return { found, coming };
}

// Requested before the page renders, if it is the first page.
let ahead = globalThis.location?.pathname == "/gallery" ? ask("") : undefined;
ahead?.catch(() => {}); // whoever waits for it reports the error

const patience = 150; // milliseconds that the cards wait for the frame

export class Gallery {
  found = $state.raw<Found | null>(null);
  error = $state<Error | null>(null);
  search = $state(new URLSearchParams(globalThis.location?.search).get("search") ?? "");
  purpose = $state(""); // "" for all
  drawn = $state<Record<string, boolean>>({});
  heights = $state.raw<Record<string, number>>({}); // of what is drawn, in CSS pixels
  laidOut = $state(0); // number of pockets that are laid out, visible or not
  frame = new GalleryFrame();
  payloads = new Map<string, Payload>();

  #asked = new Set<string>(); // widgets whose previews were requested on demand

  // lazy: the previews of a widget are requested when want() is called for it.
  constructor(
    readonly customer = "",
    readonly lazy = false,
  ) {
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

  // Draws the starters of a widget, once.
  want(name: string) {
    if (!this.lazy || this.#asked.has(name)) return;
    this.#asked.add(name);
    this.#draw(name, api.galleryPreviews(name, this.customer)).catch((error) => {
      session.expire(error);
      this.#asked.delete(name);
    });
  }

  // Draws the starters of a widget when they arrive.
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
      if (this.lazy) {
        this.found = await api.gallery();
        return;
      }
      const asked = (!this.customer && ahead) || ask(this.customer);
      ahead = undefined;
      const { found, coming } = await asked;
      // The frame draws in parallel and takes longest, so it gets its content before the cards are
      // rendered. They do not wait for long.
      const drawing = Promise.all(coming.map(({ name, asked }) => this.#draw(name, asked)));
      await Promise.race([Promise.all([drawing, this.frame.ready]), new Promise((on) => setTimeout(on, patience))]);
      this.found = found;
      await drawing;
    } catch (error) {
      session.expire(error);
      this.error = error as Error;
    }
  }
}
