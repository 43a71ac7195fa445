import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { BeforeAndAfter, Differences, DryPocket, DryRun, Payload, Release } from "../api/types";
import { session } from "../session/session.svelte";
import type { Worktop } from "./worktop.svelte";

export interface Drawn {
  payload: Payload;
  script: string;
  sheet: string;
}

// State of a release in preparation: the changes, before and after, and the effect on each pocket
// that follows.
export class Releasing {
  differences = $state.raw<Differences | null>(null);
  releases = $state.raw<Release[]>([]);
  run = $state.raw<DryRun | null>(null);
  pockets = $state.raw<DryPocket[]>([]);
  next = $state("");
  looking = $state.raw<{ key: string; both: BeforeAndAfter } | null>(null);
  before = $state.raw<Drawn | null>(null);
  after = $state.raw<Drawn | null>(null);
  starter = $state("");
  note = $state("");
  share = $state(100);
  breaks = $state(false);
  trouble = $state("");
  busy = $state(false);
  done = $state.raw<Release | null>(null);
  #gone = false;

  constructor(readonly worktop: Worktop) {}

  get name() {
    return this.worktop.name;
  }

  #failed(error: unknown) {
    session.expire(error);
    this.trouble = explain(error);
  }

  async open() {
    try {
      await this.worktop.saving.save();
      if (this.worktop.saving.state != "saved") {
        this.trouble = "The draft is not saved yet. Wait until it is saved, or correct its faults.";
        return;
      }
      const [differences, releases] = await Promise.all([api.draftDifferences(this.name), api.releases(this.name).catch(() => ({ releases: [] as Release[] }))]);
      this.differences = differences;
      this.releases = releases.releases;
      await Promise.all([this.look(""), this.rehearse()]);
    } catch (error) {
      this.#failed(error);
    }
  }

  // Draws the newest release and the draft, with a starter.
  async look(starter: string) {
    this.starter = starter;
    const cases = [{ starter, language: this.worktop.previews.language }];
    const since = this.differences?.since ?? 0;
    const [after, before, files] = await Promise.all([
      api.previewWidgetDraft(this.name, [], cases),
      since ? api.previewRelease(this.name, since, cases) : null,
      since ? api.releaseFiles(this.name, since) : null,
    ]);
    const drawn = (tried: typeof after | null, sheet: string): Drawn | null => {
      const shown = tried?.shown[0];
      return shown?.payload ? { payload: shown.payload, script: shown.script ?? "", sheet } : null;
    };
    this.after = drawn(after, this.worktop.folder.text("style.css"));
    this.before = drawn(before, files?.files.find((f) => f.path == "style.css")?.text ?? "");
  }

  // Starts the dry run and requests its progress until it is done.
  async rehearse() {
    this.looking = null;
    this.trouble = "";
    this.run = await api.startDryRun(this.name);
    this.pockets = [];
    for (let wait = 20; !this.#gone && !this.run.finished && !this.run.cancelled; wait = Math.min(500, wait * 2)) {
      await new Promise((r) => setTimeout(r, wait));
      this.run = await api.dryRun(this.name, this.run.id);
    }
    this.run = await api.dryRun(this.name, this.run.id);
    this.pockets = this.run.pockets;
    this.next = this.run.next ?? "";
  }

  async more() {
    const page = await api.dryRun(this.name, this.run!.id, this.next);
    this.pockets = [...this.pockets, ...page.pockets];
    this.next = page.next ?? "";
  }

  async compare(key: string) {
    try {
      this.looking = this.looking?.key == key ? null : { key, both: await api.beforeAndAfter(this.name, this.run!.id, key) };
    } catch (error) {
      this.#failed(error);
    }
  }

  async stop() {
    if (this.run) await api.cancelDryRun(this.name, this.run.id).catch(() => {});
  }

  // Whether everything is known and nothing needs a decision: no pocket changes or breaks.
  get plain() {
    return !this.trouble && !!this.run?.finished && this.run.changed == 0 && this.run.broken == 0 && this.worktop.sound && !this.unchanged;
  }

  // Whether the draft is the newest release.
  get unchanged() {
    return !!this.differences && this.differences.since > 0 && this.differences.settings.length + this.differences.files.length == 0;
  }

  async release() {
    this.busy = true;
    this.trouble = "";
    try {
      this.done = await api.release(this.name, { draft: true, note: this.note, share: this.share, dryRun: this.run!.id, breaks: this.breaks });
      this.worktop.released(this.done);
      this.releases = (await api.releases(this.name)).releases;
    } catch (error) {
      this.#failed(error);
      if (error instanceof Refused && (error.code == "released-meanwhile" || error.code == "dry-run-other")) await this.open();
    } finally {
      this.busy = false;
    }
  }

  // One of the releases was withdrawn, put back into use, or its share changed.
  async again() {
    this.releases = (await api.releases(this.name)).releases;
  }

  close() {
    this.#gone = true;
    if (this.run && !this.run.finished) void this.stop();
  }
}
