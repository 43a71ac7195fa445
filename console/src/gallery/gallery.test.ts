import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Gallery as Found } from "../api/types";

const service = vi.hoisted(() => ({ found: null as unknown, silent: false, asked: [] as string[] }));
vi.mock("../session/session.svelte", () => ({ session: { expire: () => {} } }));
vi.mock("../api/client", () => ({
  api: {
    gallery: async () => {
      if (service.silent) throw new Error("The service does not answer.");
      return service.found;
    },
    galleryPreviews: async (widget: string, customer: string) => {
      service.asked.push(`${widget} ${customer}`);
      const of = (service.found as Found).widgets.find((w) => w.name == widget)!;
      return { previews: (of.starters.length ? of.starters : [{ name: "" }]).map((s) => ({ starter: s.name, payload: { key: `${widget}-${s.name}` } })) };
    },
  },
}));

const { Gallery } = await import("./gallery.svelte");

const widget = (name: string, purpose: string, starters: string[]) => ({ name, purpose, title: { en: `The ${name}` }, summary: { en: `What a ${name} does` }, starters: starters.map((s) => ({ name: s, title: { en: s[0].toUpperCase() + s.slice(1) }, summary: { en: `As ${s}` } })) });

describe("the gallery", () => {
  beforeEach(() => {
    service.found = { purposes: [{ name: "dates", label: { en: "Dates and times" } }], widgets: [widget("countdown", "dates", ["harbour", "lantern"]), widget("bell", "notices", [])] };
    Object.assign(service, { silent: false, asked: [] });
  });

  it("has a card for each starter, and one for a widget that has none", async () => {
    const gallery = new Gallery("kelp");
    const drawn: string[] = [];
    gallery.frame.draw = (list) => void drawn.push(...list.map((p) => p.id));
    await gallery.load();
    expect(gallery.cards.map((c) => [c.id, c.title, c.starter])).toEqual([
      ["countdown/harbour", "Harbour", "harbour"],
      ["countdown/lantern", "Lantern", "lantern"],
      ["bell/", "The bell", ""],
    ]);
    expect(drawn).toEqual(["countdown/harbour", "countdown/lantern", "bell/"]);
    expect(service.asked).toEqual(["countdown kelp", "bell kelp"]);
    gallery.frame.ondrawn("bell/");
    expect(gallery.drawn).toEqual({ "bell/": true });
  });

  it("finds by starter, widget, what it does and what it is for", async () => {
    const gallery = new Gallery();
    await gallery.load();
    const found = (search: string, purpose = "") => {
      Object.assign(gallery, { search, purpose });
      return gallery.cards.map((c) => c.id);
    };
    expect(found(" LANT ")).toEqual(["countdown/lantern"]);
    expect(found("the bell")).toEqual(["bell/"]);
    expect(found("times")).toEqual(["countdown/harbour", "countdown/lantern"]);
    expect(found("", "notices")).toEqual(["bell/"]);
    expect(found("harbour", "notices")).toEqual([]);
  });

  it("says that nobody answers, and is there when it is asked again", async () => {
    const gallery = new Gallery();
    service.silent = true;
    await gallery.load();
    expect([gallery.error?.message, gallery.cards]).toEqual(["The service does not answer.", []]);
    service.silent = false;
    await gallery.load();
    expect([gallery.error, gallery.cards.length]).toEqual([null, 3]);
  });
});
