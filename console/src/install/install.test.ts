import { beforeEach, expect, it, vi } from "vitest";
import type { Install, Offer } from "../api/types";

// A service that knows two kinds of host, and refuses forms and places that it does not have.
const service = vi.hoisted(() => ({ asked: [] as Partial<Install>[], tried: [] as { address?: string; html?: string; spot?: number }[], sealed: false, fails: "" }));
const offer = (delivery: string, shows = "widget") => ({ delivery, title: delivery, content: "page", outcome: { shows }, why: "Because.", size: 1 }) as Offer;
vi.mock("../api/client", async () => {
  const { Refused } = await import("../api/refused");
  return {
    api: {
      hosts: async () => ({ hosts: [{ name: "blog", title: "Blog" }, { name: "shop", title: "Shop" }], wheres: { new: "in a new part", home: "only on the home page" }, deliveries: [], proved: [] }),
      guide: async (_: string, wish: Partial<Install>) => {
        service.asked.push(structuredClone(wish));
        if (wish.delivery == "carpet") throw new Refused(409, "delivery-unfit", "This widget cannot be delivered so.", "Take another.");
        if (wish.placing?.width == "wide") throw new Refused(422, "placing-faulty", "The placement is not valid.", "Fix it.");
        const best = offer(wish.delivery || "script");
        return { install: { ...wish, where: wish.where || "new" }, wheres: ["new", "home"], choice: { best: offer("script"), others: [offer("frame", "frame"), offer("email", "nothing")] }, guide: { offer: best }, sealed: service.sealed ? {} : undefined };
      },
      tryOn: async (_: string, ask: { address?: string; html?: string; spot?: number }) => {
        service.tried.push(ask);
        if (service.fails) throw new Refused(422, "address-inside", service.fails, "Paste its HTML instead.");
        return { outcome: { shows: "widget" }, spots: [], findings: [], live: "x", still: "y", title: "" };
      },
      seal: async () => void (service.sealed = true),
      handovers: async () => ({ handovers: [] }),
    },
  };
});
const kept = new Map<string, string>();
vi.stubGlobal("localStorage", { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v) });
const { Installing } = await import("./install.svelte");

beforeEach(() => {
  Object.assign(service, { asked: [], tried: [], sealed: false, fails: "" });
  kept.clear();
});
const settled = () => vi.waitFor(() => expect(service.tried.length).toBeGreaterThan(0));

it("asks for the best, and shows a sample page until a page is named", async () => {
  const it = new Installing("tide");
  await it.load();
  expect(service.asked).toEqual([]); // nothing is chosen yet
  it.choose({ host: "blog" });
  await settled();
  expect([it.wish.where, it.guided?.guide?.offer.delivery]).toEqual(["new", "script"]);
  expect(service.tried[0].html).toContain("A page like yours");
  expect(it.offers.map((o) => o.delivery)).toEqual(["script", "frame", "email"]);
});

it("begins anew with another host, and with another place", async () => {
  const it = new Installing("tide");
  it.choose({ host: "blog" });
  await settled();
  it.choose({ where: "home", delivery: "frame" });
  it.choose({ where: "new" });
  expect(it.wish.delivery).toBe("");
  it.choose({ delivery: "frame" });
  it.choose({ host: "shop" });
  expect([it.wish.where, it.wish.delivery]).toEqual(["", ""]);
});

it("keeps what was chosen, in this browser, and nothing that the service does not ask for", async () => {
  const it = new Installing("tide");
  it.choose({ host: "blog" });
  await settled();
  it.page.address = "https://isles.example/";
  await it.try();
  const again = new Installing("tide");
  expect([again.wish.host, again.page.address]).toEqual(["blog", "https://isles.example/"]);
  await again.load();
  expect(Object.keys(service.asked.at(-1)!).sort()).toEqual(["delivery", "host", "placing", "where"]);
  expect(service.tried.at(-1)).toMatchObject({ address: "https://isles.example/" });
});

it("forgets a form that there is no more, and says what cannot be", async () => {
  kept.set("install:tide", JSON.stringify({ host: "blog", where: "new", delivery: "carpet" }));
  const it = new Installing("tide");
  await it.load();
  expect([it.wish.delivery, it.trouble, it.guided?.guide?.offer.delivery]).toEqual(["", "", "script"]);
  it.place({ width: "wide" });
  await vi.waitFor(() => expect(it.trouble).toContain("The placement is not valid."));
  it.place({ width: "" });
  await vi.waitFor(() => expect(it.trouble).toBe(""));
  expect(it.wish.placing).toEqual({}); // what is empty is left out
  it.close();
});

it("shows nothing sealed before it is sealed; a page that cannot be had says so", async () => {
  const it = new Installing("tide");
  it.choose({ host: "blog" });
  await settled();
  it.choose({ delivery: "sealed" });
  await vi.waitFor(() => expect(it.guided?.guide?.offer.delivery).toBe("sealed"));
  expect(it.tried).toBeNull();
  await it.seal();
  expect(it.tried).not.toBeNull();
  service.fails = "It lies inside a private network.";
  await it.try();
  expect([it.tried, it.tryTrouble?.what, it.trying]).toEqual([null, "It lies inside a private network.", false]);
});
