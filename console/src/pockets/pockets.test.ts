import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Job, NewJob, Pocket } from "../api/types";

const service = vi.hoisted(() => ({
  asked: [] as Record<string, string>[],
  answer: null as null | (() => Promise<{ pockets: Pocket[]; next?: string; customers: Record<string, string> }>),
  started: [] as NewJob[],
  job: { id: "j", state: "running", done: 0, failed: 0, of: 3 } as unknown as Job,
  refuse: "",
}));

vi.mock("../session/session.svelte", () => ({ session: { expire: () => {} } }));
vi.mock("../api/client", async () => {
  const { Refused } = await import("../api/refused");
  const refusable = () => {
    if (service.refuse) throw new Refused(503, "unavailable", service.refuse, "Try again.");
  };
  return {
    api: {
      pockets: async (query: Record<string, string>, cursor = "") => {
        service.asked.push({ ...query, ...(cursor && { cursor }) });
        refusable();
        return service.answer!();
      },
      startJob: async (job: NewJob) => {
        refusable();
        service.started.push(JSON.parse(JSON.stringify(job)));
        return { ...service.job };
      },
      job: async () => ({ ...service.job }),
      jobs: async () => ({ jobs: [{ ...service.job }] }),
      cancelJob: async () => ((service.job as { state: string }).state = "cancelled"),
    },
  };
});

const { PocketsInReach } = await import("./pockets.svelte");

const page = (keys: string[], next?: string) => async () => ({ pockets: keys.map((key) => ({ key, customer: `of-${key}` })) as unknown as Pocket[], customers: Object.fromEntries(keys.map((key) => [`of-${key}`, `Whoever has ${key}`])), next });
const keys = (list: { pockets: Pocket[] }) => list.pockets.map((p) => p.key);

describe("the list of pockets", () => {
  beforeEach(() => {
    vi.useFakeTimers();
    Object.assign(service, { asked: [], started: [], refuse: "", answer: page(["a", "b"], "c1") });
    service.job = { id: "j", state: "running", done: 0, failed: 0, of: 3 } as unknown as Job;
  });
  afterEach(() => vi.useRealTimers());

  it("asks for what it is narrowed to, once the typing pauses", async () => {
    const list = new PocketsInReach();
    list.narrow({ search: " ki" }, 200);
    list.narrow({ search: " kiln " }, 200);
    await vi.advanceTimersByTimeAsync(250);
    list.order = "title";
    list.narrow({ customer: "kelp", behind: true });
    await vi.advanceTimersByTimeAsync(1);
    expect(service.asked).toEqual([
      { order: "-changed", search: "kiln" },
      { order: "title", search: "kiln", customer: "kelp", behind: "true" },
    ]);
    list.widen();
    await vi.advanceTimersByTimeAsync(1);
    expect(service.asked.at(-1)).toEqual({ order: "title" });
    expect(list.narrowed).toBe(false);
  });

  it("goes on where the page ended, and takes no answer of another list", async () => {
    const list = new PocketsInReach();
    await list.load();
    let answer: (found: { pockets: Pocket[]; next?: string; customers: Record<string, string> }) => void = () => {};
    service.answer = () => new Promise((resolve) => (answer = resolve));
    const late = list.more();
    void list.more(); // pressed twice, asked for once
    expect(service.asked.length).toBe(2);
    service.answer = page(["x"]);
    await list.load();
    answer((await page(["c", "d"])()) as never);
    await late;
    expect([keys(list), list.next]).toEqual([["x"], undefined]);
  });

  it("says that the next page did not come, and asks for it again", async () => {
    const list = new PocketsInReach();
    await list.load();
    service.refuse = "The service does not answer.";
    await list.more();
    expect([keys(list), list.next, list.trouble]).toEqual([["a", "b"], "c1", "The service does not answer. Try again."]);
    service.refuse = "";
    service.answer = page(["c"]);
    await list.more();
    expect([keys(list), list.next, list.trouble, service.asked.at(-1)!.cursor]).toEqual([["a", "b", "c"], undefined, "", "c1"]);
    expect(list.pockets.map((p) => list.name(p.customer))).toEqual(["Whoever has a", "Whoever has b", "Whoever has c"]);
  });

  it("acts on what is picked and seen, or on all of the list", async () => {
    const list = new PocketsInReach();
    await list.load();
    list.pick(true);
    expect(list.count).toBe(2);
    service.answer = page(["b", "z"]);
    await list.load();
    expect([list.count, list.picked]).toEqual([1, { b: true }]);
    await list.do({ does: "publish" });
    expect(service.started).toEqual([{ does: "publish", keys: ["b"] }]);
    expect(list.count).toBe(0);
    list.list.customer = "kelp";
    list.pick(true);
    list.all = true;
    await list.do({ does: "delete" });
    expect(service.started[1]).toEqual({ does: "delete", list: { search: "", customer: "kelp", widget: "", state: "", behind: false } });
    list.pick(true);
    service.refuse = "Another job is under way.";
    await list.do({ does: "delete" });
    expect([list.trouble, list.count]).toEqual(["Another job is under way. Try again.", 2]);
  });

  it("follows long work until it is through, and brings the list up to date then", async () => {
    const list = new PocketsInReach();
    await list.load();
    list.pick(true);
    await list.do({ does: "publish" });
    const before = service.asked.length;
    service.job = { ...service.job, done: 2 } as Job;
    await vi.advanceTimersByTimeAsync(500);
    expect([list.jobs.list[0].done, service.asked.length]).toEqual([2, before]);
    service.job = { ...service.job, state: "done", done: 3 } as Job;
    await vi.advanceTimersByTimeAsync(500);
    expect([list.jobs.list[0].state, service.asked.length]).toEqual(["done", before + 1]);
    expect(vi.getTimerCount()).toBe(0);
    service.job = { ...service.job, state: "running" } as Job;
    await list.jobs.load();
    await list.jobs.cancel("j");
    expect(list.jobs.list[0].state).toBe("cancelled");
    list.jobs.close();
  });

  it("takes in files that were exported, one or many, and says what is none", async () => {
    const list = new PocketsInReach();
    await list.import(new File(['{"format": 1}'], "one.json"), "kelp");
    await list.import(new File(['[{"format": 1}, {"format": 1}]'], "two.json"), "kelp");
    expect(service.started.map((j) => j.files?.length)).toEqual([1, 2]);
    await list.import(new File(["<html>"], "page.html"), "kelp");
    expect(list.trouble).toBe("page.html is not a JSON file. Choose an exported file, unchanged.");
    list.jobs.close();
  });
});
