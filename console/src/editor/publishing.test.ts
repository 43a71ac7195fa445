import { beforeEach, expect, it, vi } from "vitest";
import type { Draft } from "./draft.svelte";
import type { Publication } from "../api/types";

// A service with one pocket, which refuses what is written in refuse.
const service = vi.hoisted(() => ({ publication: 1, plans: [] as unknown[], refuse: "", served: 0 }));
vi.mock("../session/session.svelte", () => ({ session: { expire: () => {} } }));
vi.mock("./stage", () => ({ measure: async () => ({ room: 100 }) }));
vi.mock("../api/client", async () => {
  const { Refused } = await import("../api/refused");
  return {
    served: async () => service.served || service.publication,
    api: {
      pocket: async () => ({ publication: service.publication, withheld: null }),
      preview: async () => ({}),
      publish: async () => ({ number: ++service.publication, at: "2027-03-01T09:00:00Z", everybodyAt: "2027-03-01T09:01:00Z" }) as Publication,
      schedule: async (_: string, plan: unknown) => {
        if (service.refuse) throw new Refused(422, service.refuse, "It has passed already.", "Choose a moment that is still to come.");
        service.plans.push(plan);
      },
      schedules: async () => ({ schedules: [] }),
      snippets: async () => ({ snippets: [] }),
      publications: async () => ({ publications: [] }),
    },
  };
});
const { Publishing } = await import("./publishing.svelte");

const draft = { revision: 3, unsaved: false, save: async () => {}, refused: () => {} } as unknown as Draft;
function editor() {
  const it = new Publishing("tide", "http://public.example", draft, () => false);
  it.pocket = { publication: service.publication } as never;
  return it;
}
beforeEach(() => void Object.assign(service, { publication: 1, plans: [], refuse: "", served: 0 }));

it("goes back to what visitors got before", async () => {
  const publishing = editor();
  await publishing.publish({ at: "", back: "2027-04-01T09:00[UTC]" });
  expect(service.plans).toEqual([{ does: "restore", number: 1, at: "2027-04-01T09:00[UTC]" }]);
  expect([publishing.done?.number, publishing.trouble, publishing.left]).toEqual([2, null, 60]);
  publishing.close();
});

it("says that it is published when only going back could not be scheduled", async () => {
  const publishing = editor();
  service.refuse = "moment-past";
  await publishing.publish({ at: "", back: "2020-04-01T09:00[UTC]" });
  expect([publishing.done?.number, publishing.busy]).toEqual([2, false]);
  expect(publishing.trouble).toEqual({ what: "Published, but the return is not scheduled: It has passed already.", hint: "Choose a moment that is still to come." });
  publishing.close();
});

it("tells when the public side did not confirm what was published", async () => {
  const publishing = editor();
  service.served = 1;
  await publishing.publish();
  expect([publishing.done?.confirmed, publishing.notice.includes("http://public.example did not confirm this")]).toEqual([false, true]);
  publishing.close();
});

it("publishes nothing while something could not be saved", async () => {
  const publishing = editor();
  Object.assign(draft, { unsaved: true });
  await publishing.publish();
  expect([service.publication, publishing.done, publishing.trouble?.what]).toEqual([1, null, "Not published: some settings could not be saved."]);
  Object.assign(draft, { unsaved: false });
});
