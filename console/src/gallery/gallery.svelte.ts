// What there is to begin with, and how each starter looks.
import { api } from "../api/client";
import type { Gallery as Found, GalleryWidget, Payload } from "../api/types";
import { session } from "../session/session.svelte";
import { GalleryFrame } from "./frame";

export interface Card {
  id: string; // of the widget and its starter
  widget: GalleryWidget;
  starter: string;
  title: string;
  summary: string;
}

export class Gallery {
  found = $state.raw<Found | null>(null);
  error = $state<Error | null>(null);
  search = $state("");
  purpose = $state(""); // "" for all
  drawn = $state<Record<string, boolean>>({});
  frame = new GalleryFrame();
  payloads = new Map<string, Payload>();

  constructor(readonly customer = "") {
    this.frame.ondrawn = (id) => (this.drawn[id] = true);
  }

  cards = $derived.by(() => {
    const text = this.search.trim().toLowerCase();
    return (this.found?.widgets ?? []).flatMap((widget) => {
      if (this.purpose && widget.purpose != this.purpose) return [];
      const starters = widget.starters.length ? widget.starters : [{ name: "", title: widget.title, summary: widget.summary }];
      return starters
        .map((s): Card => ({ id: `${widget.name}/${s.name}`, widget, starter: s.name, title: s.title.en ?? s.name, summary: s.summary?.en ?? "" }))
        .filter((card) => !text || [card.title, card.summary, widget.title.en, widget.summary?.en, widget.name, this.#label(widget.purpose)].some((words) => words?.toLowerCase().includes(text)));
    });
  });

  #label = (purpose: string) => this.found?.purposes.find((p) => p.name == purpose)?.label.en;

  async load() {
    this.error = null;
    try {
      this.found = await api.gallery();
      // Each widget's as soon as it is there.
      await Promise.all(
        this.found.widgets.map(async (widget) => {
          const { pictures } = await api.galleryPictures(widget.name, this.customer);
          const list = pictures.map((p) => ({ id: `${widget.name}/${p.starter}`, payload: p.payload }));
          for (const { id, payload } of list) this.payloads.set(id, payload);
          this.frame.draw(list);
        }),
      );
    } catch (error) {
      session.ended(error);
      this.error = error as Error;
    }
  }
}
