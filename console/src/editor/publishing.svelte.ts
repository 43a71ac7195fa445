// State of publishing: the changes, schedules, the history, and when every visitor has the last
// publication.
import { api, served } from "../api/client";
import { Refused } from "../api/refused";
import type { Height, Pocket, PocketDifferences, Previewed, Publication, Schedule, Snippet } from "../api/types";
import { session } from "../session/session.svelte";
import { heightsOf } from "./heights";
import type { Draft } from "./draft.svelte";

export interface Wish {
  at: string; // a moment with its zone; "" for now
  back: string; // a moment with its zone; "" for never
}

export class Publishing {
  pocket = $state<Pocket | null>(null);
  busy = $state(false);
  differences = $state.raw<PocketDifferences | null>(null);
  undoable = $state<{ number: number; before: number } | null>(null); // the last publication of this tab, and the live version before it; 0 for none
  trouble = $state<{ what: string; hint: string } | null>(null);
  done = $state<{ number: number; everybodyAt: number; confirmed: boolean } | null>(null); // the last one in this tab
  notice = $state("");
  follow = $state(false); // whether the next publication follows new releases
  snippets = $state<Snippet[]>([]);
  publications = $state<Publication[]>([]); // the newest first
  older = $state(""); // cursor to older ones, "" if there are none
  schedules = $state<Schedule[]>([]);
  now = $state(Date.now());
  #clock: ReturnType<typeof setInterval> | undefined;

  constructor(
    readonly key: string,
    readonly publicBase: string,
    readonly draft: Draft,
    readonly floats: () => boolean,
  ) {}

  waiting = $derived(this.schedules.filter((s) => s.outcome == "").reverse());
  // Seconds until every visitor has the last publication of this tab.
  left = $derived(this.done ? Math.max(0, Math.ceil((this.done.everybodyAt - this.now) / 1000)) : 0);

  #failed(error: unknown) {
    session.expire(error);
    this.trouble = { what: (error as Error).message, hint: error instanceof Refused ? error.hint : "" };
    if (error instanceof Refused) this.draft.refused(error.faults);
  }

  async load() {
    await Promise.all([this.loadSnippets(), this.loadSchedules()]);
  }

  // Whether publishing would change anything for visitors.
  get somethingNew() {
    return this.pocket?.state != "published" || this.draft.state != "saved" || this.follow != this.pocket.follow;
  }

  // Loads what publishing would change. It saves first, so that this is accurate.
  async compare() {
    if (!this.pocket?.publication) return;
    try {
      await this.draft.save();
      this.differences = await api.pocketDifferences(this.key);
    } catch (error) {
      session.expire(error); // publishing reports everything else
    }
  }

  // Draws the live version and the draft as visitors would get it.
  async look(): Promise<[Previewed | null, Previewed]> {
    await this.draft.save();
    const current = this.pocket!.publication;
    return Promise.all([current ? api.preview(this.key, { publication: current }) : null, api.preview(this.key, { live: true })]);
  }

  // Publishes the draft. Returns whether it did.
  async publish(wish: Wish = { at: "", back: "" }): Promise<boolean> {
    this.busy = true;
    this.trouble = null;
    this.notice = "";
    try {
      await this.draft.save();
      if (this.draft.state == "away") throw new Refused(0, "unreachable", "The service does not answer, so nothing can be published now.", "Your input is kept here. Publish when the service answers again.");
      if (this.draft.unsaved) throw new Refused(0, "unsaved", "Not published: some settings could not be saved.", "Correct the marked fields.");
      const publish = { revision: this.draft.revision, heights: await this.#heights(), follow: this.follow };
      if (wish.at) {
        await api.schedule(this.key, { does: "publish", at: wish.at, publish, ...(wish.back ? { back: wish.back } : {}) });
        await this.loadSchedules();
        this.notice = "Scheduled. The draft will be published as it is now, without later changes.";
      } else {
        const before = this.pocket!.publication;
        const made = await api.publish(this.key, publish.revision, publish.heights, publish.follow);
        await this.#published(made, `Published as number ${made.number}.`);
        this.undoable = { number: made.number, before };
        this.differences = null;
        if (wish.back) await this.#back(before, wish.back);
      }
      return true;
    } catch (error) {
      this.#failed(error);
      // Another tab or person changed the draft: shows their change before anything is published.
      if (error instanceof Refused && error.code == "draft-changed") await this.draft.refresh();
      return false;
    } finally {
      this.busy = false;
    }
  }

  // Undoes the last publication of this tab: visitors get the version before it again. The service
  // refuses if somebody has published since then.
  async undo() {
    const { number, before } = this.undoable!;
    this.undoable = null;
    await this.#do(
      () => (before ? api.restore(this.key, before, number) : api.unpublish(this.key, number)),
      () => (before ? `Undone. Visitors get number ${before} again. The draft has not changed.` : "Undone. The pocket is not published. The draft has not changed."),
    );
  }

  // Schedules the return of the previous version. The pocket is published by then, and this is
  // reported whatever the result.
  async #back(before: number, at: string) {
    try {
      await api.schedule(this.key, before ? { does: "restore", number: before, at } : { does: "unpublish", at });
      await this.loadSchedules();
    } catch (error) {
      this.#failed(error);
      this.trouble = { what: `Published, but the return is not scheduled: ${this.trouble!.what}`, hint: this.trouble!.hint };
    }
  }

  #measured: { revision: number; heights: Promise<Height[]> } | undefined;

  // Measures ahead of publishing, so that it does not have to wait.
  prepare() {
    if (this.draft.state == "saved" && this.#measured?.revision != this.draft.revision) void this.#heights().catch(() => {});
  }

  // None for a widget above the page.
  #heights(): Promise<Height[]> {
    if (this.#measured?.revision != this.draft.revision) {
      const mine = (this.#measured = { revision: this.draft.revision, heights: this.floats() ? Promise.resolve([]) : heightsOf(this.publicBase, this.key) });
      mine.heights.catch(() => this.#measured == mine && (this.#measured = undefined));
    }
    return this.#measured!.heights;
  }

  restore = (number: number) => this.#do(() => api.restore(this.key, number), (made) => `Number ${number} is published again as number ${made.number}.`);
  unpublish = () => this.#do(() => api.unpublish(this.key), () => "Unpublished. Visitors no longer see it.");

  async #do(what: () => Promise<Publication>, said: (made: Publication) => string) {
    this.busy = true;
    this.notice = "";
    this.undoable = null;
    try {
      const made = await what();
      await this.#published(made, said(made));
    } catch (error) {
      session.expire(error);
      this.notice = `${(error as Error).message} ${error instanceof Refused ? error.hint : ""}`;
    } finally {
      this.busy = false;
    }
  }

  async #published(made: Publication, what: string) {
    this.pocket = await api.pocket(this.key);
    const live = made.unpublished ? made.number : await served(this.publicBase, this.key).catch(() => 0);
    const confirmed = live >= made.number;
    this.done = { number: made.number, everybodyAt: Date.now() + Date.parse(made.everybodyAt) - Date.parse(made.at), confirmed };
    this.notice = this.pocket.withheld
      ? `${what} But the operator withholds it, so visitors do not see it.`
      : confirmed
        ? `${what} The service now delivers it.`
        : `${what} The public address ${this.publicBase} did not confirm this. Check that visitors can reach it.`;
    this.#count();
    await Promise.all([this.loadSnippets(), this.loadPublications(), this.loadSchedules()]);
  }

  // Counts down until every visitor's browser has loaded it.
  #count() {
    clearInterval(this.#clock);
    this.now = Date.now();
    this.#clock = setInterval(() => {
      this.now = Date.now();
      if (this.left == 0) clearInterval(this.#clock);
    }, 1000);
  }

  async loadPublications(more = false) {
    try {
      const page = await api.publications(this.key, more ? this.older : "");
      this.publications = more ? [...this.publications, ...page.publications] : page.publications;
      this.older = page.next ?? "";
    } catch (error) {
      this.#failed(error);
    }
  }

  async loadSnippets() {
    this.snippets = this.pocket!.publication > 0 ? (await api.snippets(this.key, "script")).snippets : [];
  }

  async loadSchedules() {
    this.schedules = (await api.schedules(this.key)).schedules;
  }

  async cancel(id: number) {
    try {
      await api.cancelSchedule(this.key, id);
      this.notice = "Cancelled the schedule.";
    } catch (error) {
      this.notice = `${(error as Error).message} ${error instanceof Refused ? error.hint : ""}`;
    }
    await this.loadSchedules().catch(() => {}); // schedules are loaded again soon
  }

  // Another tab or person may have published.
  async refresh() {
    if (this.busy || !this.pocket) return;
    const now = await api.pocket(this.key).catch(() => null); // the next request reports it
    if (now && now.newest != this.pocket.newest) {
      this.pocket = now;
      this.undoable = null;
      this.notice = `Number ${now.newest} has been published elsewhere.`;
      await this.load();
    }
  }

  // A schedule may have run.
  async poll() {
    if (!this.waiting.some((s) => Date.parse(s.due) <= Date.now())) return;
    try {
      this.pocket = await api.pocket(this.key);
      await this.load();
    } catch {
      // It is loaded again soon.
    }
  }

  close() {
    clearInterval(this.#clock);
  }
}
