// State of the editor of a pocket: its draft, its preview, and publishing.
import { api } from "../api/client";
import { explain } from "../api/refused";
import type { BrandValue, Listing, Setting, StarterDifferences, Widget } from "../api/types";
import { session } from "../session/session.svelte";
import { same } from "../same";
import { Draft, type Path, type Values } from "./draft.svelte";
import { extras, unseen } from "./extras";
import { Library } from "./library.svelte";
import { lookOf, writable } from "./look";
import type { Maker } from "./made";
import { matters } from "./matters";
import { Publishing } from "./publishing.svelte";
import { Sight } from "./sight.svelte";

export type { Values };

// The parts of the form, in order. All are on one page; the last publishes.
export const parts = ["says", "looks", "stands", "publish"] as const;
export type Part = (typeof parts)[number];

const aboutLabels: Record<string, string> = { title: "Name", language: "Language", starter: "Starter" };

// Entries of lists within an entry need ids too.
function withIds(entry: Values, fields: Setting[]): Values {
  const out = { ...entry };
  for (const f of fields) {
    const value = out[f.key];
    if (!f.fields || !value) continue;
    out[f.key] = Array.isArray(value) ? value.map((e) => ({ ...withIds(e as Values, f.fields!), id: crypto.randomUUID().slice(0, 8) })) : withIds(value as Values, f.fields);
  }
  return out;
}

export class PocketEditor {
  widget = $state<Widget | null>(null);
  error = $state<Error | null>(null); // loading failed, so nothing can be edited
  notice = $state(""); // an event, for screen readers
  part = $state<Part>("says"); // the part that is scrolled to
  search = $state("");
  focused = $state<Path>(""); // the setting with the focus
  wished = $state<Record<string, boolean>>({}); // lists with a source that is connected when the guest signs up
  wanted = $state<{ path: Path; turn: number } | null>(null); // the setting to scroll to
  brand = $state.raw<BrandValue[]>([]); // the customer's brand, to which settings can refer
  sites = $state.raw<string[] | undefined>(); // the customer's sites
  zone = $state<string | undefined>(); // the customer's time zone, the default for moments
  onopen: () => void = () => {}; // called when a setting must be shown, from any page
  onpart: (part: Part) => void = () => {}; // scrolls to a part of the form
  readonly draft: Draft;
  readonly sight: Sight;
  readonly publishing: Publishing;
  readonly library: Library;

  constructor(
    readonly key: string,
    readonly publicBase: string,
  ) {
    this.draft = new Draft(
      key,
      (path) => this.label(path),
      (path) => this.setting(path),
    );
    this.draft.locked = () => this.readonly;
    this.draft.notice = (what) => (this.notice = what);
    this.draft.onchange = (paths) => this.#show(paths);
    this.draft.onsaved = () => {
      const pocket = this.publishing.pocket;
      if (pocket && pocket.publication > 0) pocket.state = "changed";
    };
    this.sight = new Sight(key, this.draft, () => this.widget?.settings ?? []);
    this.sight.onchoose = (made) => this.open(made);
    this.draft.onback = () => void this.sight.draw();
    this.publishing = new Publishing(key, publicBase, this.draft, () => !!this.widget?.floats);
    this.library = new Library(
      () => this.pocket!.customer,
      () => this.widget,
      () => this.draft.save(),
      (error) => (this.notice = explain(error)),
    );
  }

  // The user may not change anything.
  get readonly() {
    return session.views;
  }

  get pocket() {
    return this.publishing.pocket;
  }

  async load() {
    this.error = null;
    try {
      const [pocket, draft] = await Promise.all([api.pocket(this.key), api.draft(this.key)]);
      this.widget = await api.widget(pocket.widget, this.key);
      this.sight.long = this.widget.floats || !!this.widget.readsPage;
      this.publishing.pocket = pocket;
      this.publishing.follow = pocket.follow;
      this.draft.start(draft);
      if (!session.guest) api.customer(pocket.customer).then((found) => {
        this.zone = found.zone == "UTC" ? undefined : found.zone;
        this.sites = found.sites;
      }, () => {});
      if (!session.guest) api.brand(pocket.customer).then((found) => (this.brand = found.values), () => {});
      await Promise.all([this.sight.draw(), this.publishing.load(), this.sight.loadCases()]);
    } catch (error) {
      session.expire(error);
      this.error = error as Error;
    }
  }

  setting(path: Path): Setting | undefined {
    const [head, key] = path.split("/");
    return this.widget?.settings.find((s) => s.key == (head == "small" ? key : head));
  }

  label(path: Path): string {
    const [head, key] = path.split("/");
    if (head == "pocket") return aboutLabels[key] ?? extras[key as keyof typeof extras].label;
    const label = this.setting(path)?.label.en ?? key ?? head;
    return head == "small" ? `${label} on small screens` : label;
  }

  // A setting's present value: the draft's, or its default.
  value(key: string): unknown {
    return this.draft.get(key) ?? this.setting(key)?.default ?? null;
  }

  // The name of the brand value that a value refers to, or "".
  brandName = (value: unknown): string => (value instanceof Object && "brand" in value ? String(value.brand) : "");

  // A value, with a reference to the brand replaced.
  resolved(value: unknown): unknown {
    const name = this.brandName(value);
    return name ? (this.brand.find((b) => b.name == name)?.value ?? null) : value;
  }

  // A setting's initial value: its starter's, or the widget's.
  initial(path: Path): unknown {
    const starter = this.widget?.starters.find((s) => s.name == this.draft.about.starter)?.settings as Values | undefined;
    const [head, key] = path.split("/");
    if (head == "small") return (starter?.small as Values | undefined)?.[key];
    return starter?.[path];
  }

  // The customer's brand value for a setting with the starter, if any. Pockets that are older than
  // the brand started without it.
  #fromBrand(path: Path): unknown {
    const name = this.widget?.fromBrand?.[String(this.draft.about.starter)]?.[path];
    return name && { brand: name };
  }

  // Whether a setting differs from its initial value.
  changed(path: Path): boolean {
    const otherwise = path.startsWith("small/") ? undefined : this.setting(path)?.default;
    const current = this.draft.get(path) ?? otherwise;
    const given = this.#fromBrand(path);
    return !same(current, this.initial(path) ?? otherwise) && !(given && same(current, given));
  }

  reset(path: Path) {
    this.draft.change(`${this.label(path)} reset`, { [path]: this.#fromBrand(path) ?? this.initial(path) ?? null }, true);
  }

  // The widget's sample entries for a list, with ids that stay when they are adopted.
  #entries = new Map<string, Values[]>();
  sampleEntries(key: string): Values[] {
    let list = this.#entries.get(key);
    if (!list) {
      const given = (this.widget?.sample?.[key] ?? []) as Values[];
      this.#entries.set(key, (list = given.map((entry) => ({ ...withIds(entry, this.setting(key)?.fields ?? []), id: crypto.randomUUID().slice(0, 8) }))));
    }
    return list;
  }

  // Whether a list shows its sample: the draft has no value for it.
  sampleShown = (key: string): boolean => !this.sourced(key) && !this.wished[key] && this.draft.get(key) === undefined && this.initial(key) === undefined && !!this.widget?.sample?.[key];

  // Whether a list has sources.
  sourced = (key: string): boolean => !!(this.draft.about.sources as Record<string, { from?: unknown[] }> | undefined)?.[key]?.from?.length;

  // The lists for which visitors would see nothing, because their entries are only a sample.
  get samplesLeft(): Setting[] {
    return (this.widget?.settings ?? []).filter((s) => s.fields && this.sampleShown(s.key) && this.matters(s));
  }

  // Makes all sample entries the customer's own.
  adoptSamples() {
    this.draft.change("the sample entries", Object.fromEntries(this.samplesLeft.map((s) => [s.key, this.sampleEntries(s.key)])), true);
  }

  // Whether a setting has an effect with the present values of others.
  matters(setting: Setting): boolean {
    // The rules of a list with sources have an order of their own.
    const listings = (this.draft.about.sources ?? {}) as Record<string, Listing>;
    if (this.widget?.settings.some((s) => s.sortBy == setting.key && listings[s.key]?.from?.length)) return false;
    return matters(setting, (key) => this.value(key));
  }

  partOf(setting: Setting): Part {
    return (this.widget?.groups.find((g) => g.name == setting.group)?.part ?? "says") as Part;
  }

  // Shows a change at once. A change of the look needs no rendering.
  #show(paths: Path[]) {
    const about = paths.filter((p) => p.startsWith("pocket/"));
    if (paths.length == 1 && (about.includes("pocket/title") || about.some(unseen))) return;
    const only = paths.length == 1 ? this.setting(paths[0]) : undefined;
    const value = only && this.draft.get(paths[0]);
    if (only && this.sight.shown && only.look && paths[0] == only.key && !(only.key in this.draft.small) && value !== undefined && !this.draft.faulty(only.key) && writable(only, value)) {
      this.sight.restyle(lookOf([only], { [only.key]: value }));
      return;
    }
    if (about.includes("pocket/language")) void this.draft.save().then(() => this.sight.draw());
    void this.sight.draw();
  }

  // Opens the settings behind a part, and focuses the nearest.
  open(made: Maker[]) {
    const first = made[0];
    const setting = this.setting(first.key);
    if (!setting) return;
    this.search = "";
    this.go(first.item === undefined ? first.key : `${first.key}/${first.item}`);
  }

  go(path: Path) {
    this.onopen();
    this.wanted = { path, turn: (this.wanted?.turn ?? 0) + 1 };
  }

  // The settings without which nothing can be published.
  get missing(): Setting[] {
    return (this.widget?.settings ?? []).filter((s) => s.required && this.matters(s) && (this.value(s.key) === null || this.value(s.key) === ""));
  }

  // The field that a new pocket opens on: the first one that publishing needs, else a list, else the
  // first field.
  get first(): Setting | undefined {
    const visible = this.widget!.groups.flatMap((g) => this.widget!.settings.filter((s) => s.group == g.name && this.matters(s)));
    return this.missing[0] ?? visible.find((s) => this.sampleShown(s.key)) ?? visible[0];
  }

  focus(path: Path) {
    if (path == this.focused) return;
    this.focused = path;
    this.sight.small(path.startsWith("small/"));
    const [, nth] = path.split("/");
    this.sight.outline(this.setting(path) ?? null, /^\d+$/.test(nth) ? Number(nth) : undefined);
  }

  starterDifferences = (name: string, take: string[]): Promise<StarterDifferences> => this.draft.save().then(() => api.starterDifferences(this.key, name, take));

  // Changes to another starter, as one step of undo.
  changeStarter(differences: StarterDifferences, title: string) {
    const next = differences.settings as Values;
    const wanted: Record<Path, unknown> = { "pocket/starter": differences.starter };
    for (const { key } of this.widget!.settings) {
      wanted[key] = next[key] ?? null;
      const small = (next.small as Values | undefined)?.[key];
      if (this.setting(key)!.small) wanted["small/" + key] = small ?? null;
    }
    this.draft.change(`the starter ${title}`, wanted, true);
  }

  close() {
    this.draft.close();
    this.sight.close();
    this.publishing.close();
  }
}
