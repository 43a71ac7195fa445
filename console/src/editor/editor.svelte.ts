import { api, Refused, served } from "../api/client";
import type { Asset, Fault, Payload, Pocket, Publication, Setting, Snippet, Widget } from "../api/types";
import { session } from "../session/session.svelte";
import { lookOf, writable } from "./look";
import { matters } from "./matters";
import { measure, type Stage } from "./stage";

export type Values = Record<string, unknown>;

// One pocket being edited: its draft, the preview that follows it, and publishing.
export class PocketEditor {
  pocket = $state<Pocket | null>(null);
  widget = $state<Widget | null>(null);
  values = $state<Values>({}); // what the draft holds; the rest is default or sample
  faults = $state<Record<string, Fault>>({});
  saving = $state<"saved" | "waiting" | "saving" | "failed">("saved");
  trouble = $state(""); // why saving failed
  notice = $state(""); // something that has happened, to be read out
  error = $state<Error | null>(null); // nothing can be edited
  publishing = $state(false);
  snippets = $state<Snippet[]>([]);
  publications = $state<Publication[]>([]); // the newest first
  older = $state(""); // cursor to those before, "" when there are none
  assets = $state<Asset[]>([]); // the customer's, once a field has asked for them
  aside = $state<string[]>([]); // set under another release, kept, and not shown by this one
  follow = $state(false); // whether the next publication follows new releases

  #revision = 0;
  #pending: Values = {}; // changes not saved yet, by setting; "small/KEY" for small screens
  #asked = false; // whether assets have been loaded
  #timer: ReturnType<typeof setTimeout> | undefined;
  #save: Promise<void> | undefined;
  #drawing: AbortController | undefined;
  #last: Payload | undefined;

  constructor(
    readonly key: string,
    readonly publicBase: string,
    readonly stage: Stage,
  ) {}

  async load() {
    this.error = null;
    try {
      const [pocket, draft] = await Promise.all([api.pocket(this.key), api.draft(this.key)]);
      this.widget = await api.widget(pocket.widget, this.key);
      this.pocket = pocket;
      this.follow = pocket.follow;
      this.values = draft.settings;
      this.aside = draft.aside ?? [];
      this.#revision = draft.revision;
      await Promise.all([this.draw(), this.loadSnippets()]);
    } catch (error) {
      session.ended(error);
      this.error = error as Error;
    }
  }

  // What a setting is now: the draft's value, else its default.
  value(key: string): unknown {
    return key in this.values ? this.values[key] : (this.widget!.settings.find((s) => s.key == key)?.default ?? null);
  }

  // Whether a setting has a part to play with what the others are now.
  matters(setting: Setting): boolean {
    return matters(setting, (key) => this.value(key));
  }

  // What settings are on small screens, where they differ there.
  get small(): Values {
    return (this.values.small as Values | undefined) ?? {};
  }

  // Takes a change in from the form: shows it at once, saves it soon. null takes a value
  // away.
  set(key: string, value: unknown) {
    const setting = this.widget!.settings.find((s) => s.key == key)!;
    if (value === null) delete this.values[key];
    else this.values[key] = value;
    this.#changed(key, value);
    if (setting.look && !(key in this.small) && this.#last && value !== null && writable(setting, value)) this.stage.restyle(lookOf([setting], { [key]: value }));
    else this.draw();
  }

  // The same for small screens.
  setSmall(key: string, value: unknown) {
    const small = { ...this.small };
    if (value === null) delete small[key];
    else small[key] = value;
    this.values.small = small;
    this.#changed("small/" + key, value);
    this.draw();
  }

  #changed(path: string, value: unknown) {
    for (const at in this.faults) if (at == path || at.startsWith(path + "/")) delete this.faults[at];
    this.#pending[path] = value;
    this.saving = "waiting";
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => this.save(), 500);
  }

  #faulty(path: string) {
    return Object.keys(this.faults).some((at) => at == path || at.startsWith(path + "/"));
  }

  async loadAssets(again = false) {
    if (this.#asked && !again) return;
    this.#asked = true;
    try {
      this.assets = await api.assets(this.pocket!.customer);
    } catch (error) {
      this.#asked = false;
      this.#refused(error);
    }
  }

  async upload(file: File): Promise<Asset> {
    const bytes = await new Promise<string>((resolve, reject) => {
      const reader = new FileReader();
      reader.onload = () => resolve(String(reader.result).split(",")[1] ?? "");
      reader.onerror = () => reject(new Error(`${file.name} cannot be read.`));
      reader.readAsDataURL(file);
    });
    const asset = await api.upload(this.pocket!.customer, file.name, bytes);
    await this.loadAssets(true);
    return asset;
  }

  // The keys of the pockets that show one of the customer's assets, this one's draft as it
  // stands in the form among them.
  async assetUses(digest: string): Promise<string[]> {
    await this.save();
    return (await api.asset(this.pocket!.customer, digest)).usedBy ?? [];
  }

  async endAsset(digest: string) {
    await api.endAsset(this.pocket!.customer, digest);
    await this.loadAssets(true);
  }

  // Where an asset can be seen; "" while it is not known.
  assetAddress(ref: string): string {
    if (!ref) return "";
    if (!ref.startsWith("assets/")) this.loadAssets();
    return this.widget?.pictures[ref]?.address ?? this.assets.find((a) => a.digest == ref)?.address ?? "";
  }

  assetName(ref: string): string {
    this.assetAddress(ref);
    return this.widget?.pictures[ref]?.name ?? this.assets.find((a) => a.digest == ref)?.name ?? ref.slice(0, 12);
  }

  // Draws the draft as it stands in the form. A later call replaces one under way.
  async draw() {
    this.#drawing?.abort();
    const mine = (this.#drawing = new AbortController());
    try {
      const payload = await api.preview(this.key, this.values, mine.signal);
      if (mine.signal.aborted) return;
      this.#last = payload;
      this.stage.draw(payload);
      this.trouble = "";
    } catch (error) {
      if (mine.signal.aborted) return;
      this.#refused(error);
    }
  }

  #refused(error: unknown) {
    session.ended(error);
    if (error instanceof Refused && error.faults.length) {
      for (const fault of error.faults) if (fault.field) this.faults[fault.field] = fault;
      return;
    }
    this.trouble = error instanceof Refused ? `${error.message} ${error.hint}` : String(error);
  }

  // Saves what is pending. Settings that the service refuses stay in the form, marked.
  save(): Promise<void> {
    clearTimeout(this.#timer);
    this.#save = (this.#save ?? Promise.resolve()).then(() => this.#saveNow());
    return this.#save;
  }

  async #saveNow() {
    const saved = Object.entries(this.#pending).filter(([path]) => !this.#faulty(path));
    const change: Values = {};
    for (const [path, value] of saved) {
      const [head, key] = path.split("/");
      if (key) change.small = { ...((change.small as Values) ?? {}), [key]: value };
      else change[head] = value;
    }
    if (saved.length == 0) {
      this.saving = Object.keys(this.#pending).length ? "failed" : "saved";
      return;
    }
    this.saving = "saving";
    try {
      const draft = await api.changeDraft(this.key, this.#revision, change);
      this.#revision = draft.revision;
      for (const [path, value] of saved) if (this.#pending[path] === value) delete this.#pending[path];
      this.trouble = "";
      if (this.pocket!.publication > 0) this.pocket!.state = "changed";
      const left = Object.keys(this.#pending);
      this.saving = left.length == 0 ? "saved" : left.every((path) => this.#faulty(path)) ? "failed" : "waiting";
    } catch (error) {
      if (error instanceof Refused && error.code == "draft-changed") return this.#rebase();
      const before = Object.keys(this.faults).length;
      this.#refused(error);
      this.saving = "failed";
      if (Object.keys(this.faults).length > before) await this.#saveNow(); // the others can still be saved
    }
  }

  // Somebody else saved first: take their changes in, put ours on top, say so.
  async #rebase() {
    const draft = await api.draft(this.key);
    const theirs = this.widget!.settings.filter((s) => !(s.key in this.#pending) && JSON.stringify(draft.settings[s.key]) != JSON.stringify(this.values[s.key]));
    this.#revision = draft.revision;
    const small = { ...((draft.settings.small as Values) ?? {}) };
    const mine: Values = {};
    for (const [path, value] of Object.entries(this.#pending)) {
      const [head, key] = path.split("/");
      if (!key && value !== null) mine[head] = value;
      else if (key && value !== null) small[key] = value;
      else if (key) delete small[key];
    }
    this.values = { ...draft.settings, ...mine, small };
    this.notice = `Somebody else changed this draft meanwhile. Taken in: ${theirs.map((s) => s.label.en).join(", ") || "nothing that you see"}.`;
    await this.#saveNow();
    await this.draw();
  }

  async publish() {
    this.publishing = true;
    this.notice = "";
    try {
      await this.save();
      if (this.saving != "saved") {
        this.notice = "Not published: some settings could not be saved. See the marked fields.";
        return;
      }
      const done = await api.publish(this.key, this.#revision, await this.#heights(), this.follow);
      await this.#published(done, `Published as number ${done.number}.`);
    } catch (error) {
      session.ended(error);
      this.#refused(error);
      this.notice = `Not published. ${(error as Error).message}`;
    } finally {
      this.publishing = false;
    }
  }

  // The room to reserve: none for what lies over the page. A narrow and a wide one; what
  // the snippet reserves steps at 560 pixels.
  async #heights() {
    if (this.widget!.floats) return [];
    const payload = await api.preview(this.key, this.values);
    const [narrow, wide] = await Promise.all([measure(this.publicBase, payload, 312), measure(this.publicBase, payload, 672)]);
    return [
      { from: 0, ...narrow },
      { from: 560, ...wide },
    ];
  }

  // Publishes an older state again.
  async restore(number: number) {
    this.publishing = true;
    this.notice = "";
    try {
      const done = await api.restore(this.key, number);
      await this.#published(done, `Number ${number} is published again, as number ${done.number}.`);
    } catch (error) {
      session.ended(error);
      this.notice = `Not restored. ${(error as Error).message} ${error instanceof Refused ? error.hint : ""}`;
    } finally {
      this.publishing = false;
    }
  }

  async #published(done: Publication, what: string) {
    this.pocket = await api.pocket(this.key);
    const now = await served(this.publicBase, this.key).catch(() => 0);
    this.notice = this.pocket.withheld
      ? `${what} It is withheld: visitors get nothing until the operator serves it again.`
      : now >= done.number
        ? `${what} The service serves it now; every visitor has it within a minute.`
        : `${what} The public address ${this.publicBase} did not confirm it; check that visitors can reach it.`;
    await Promise.all([this.loadSnippets(), this.loadPublications()]);
  }

  async loadPublications(more = false) {
    try {
      const page = await api.publications(this.key, more ? this.older : "");
      this.publications = more ? [...this.publications, ...page.publications] : page.publications;
      this.older = page.next ?? "";
    } catch (error) {
      this.#refused(error);
    }
  }

  async loadSnippets() {
    if (this.pocket!.publication > 0) this.snippets = (await api.snippets(this.key)).snippets;
  }
}
