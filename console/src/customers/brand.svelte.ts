// State of the form for a customer's brand, and of what a change would affect.
import { api } from "../api/client";
import { Refused, explain } from "../api/refused";
import type { Brand, BrandValue, Customer, Fault, Pocket, Previewed } from "../api/types";
import { same } from "../same";
import { Library } from "../editor/library.svelte";
import { session } from "../session/session.svelte";
import { inWords, together } from "./together";

export class BrandEditor {
  brand = $state<Brand | null>(null);
  values = $state<BrandValue[]>([]);
  trouble = $state("");
  faults = $state<Record<string, Fault>>({}); // "2/value"
  said = $state("");
  unused = $state(false); // saved, and no pocket refers to the changed values
  // The confirmation before saving is open.
  asking = $state(false);
  names = $state<string[]>([]);
  pockets = $state<Pocket[]>([]);
  next = $state("");
  renderings = $state.raw<Record<string, { before: Previewed; after: Previewed }>>({});
  busy = $state(false);
  library: Library;

  constructor(readonly customer: Customer) {
    this.library = new Library(
      () => customer.id,
      () => null,
      async () => {},
      (error) => (this.trouble = String(error)),
    );
  }

  changed = $derived(!same(this.values, this.brand?.values ?? []));

  async load() {
    this.trouble = "";
    try {
      this.#record(await api.brand(this.customer.id));
    } catch (error) {
      this.#failed(error);
    }
  }

  #record(brand: Brand) {
    this.brand = brand;
    this.values = structuredClone($state.snapshot(brand.values)) as BrandValue[];
  }

  get(name: string): BrandValue | undefined {
    return this.values.find((v) => v.name == name);
  }

  set(name: string, type: string, label: string, value: unknown) {
    this.said = "";
    this.unused = false;
    const i = this.values.findIndex((v) => v.name == name);
    if (value === null) this.values = this.values.filter((v) => v.name != name);
    else if (i < 0) this.values.push({ name, type, label, value });
    else this.values[i].value = value;
    this.faults = {};
  }

  // Adds a colour besides those with names that widgets use.
  add(label: string) {
    const words = label.toLowerCase().replace(/[^a-z0-9]+/g, " ").trim().split(" ");
    let name = words.map((w, i) => (i ? w[0].toUpperCase() + w.slice(1) : w)).join("").replace(/^[^a-z]+/, "") || "colour";
    name = name.slice(0, 36);
    for (let n = 2; this.get(name) || this.brand!.names.some((k) => k.name == name); n++) name = `${name.replace(/\d+$/, "")}${n}`;
    this.values.push({ name, type: "colour", label: label.slice(0, 60), value: "#0b6b63" });
  }

  #failed(error: unknown) {
    session.expire(error);
    this.trouble = explain(error);
    if (error instanceof Refused) for (const f of error.faults) if (f.field) this.faults[f.field] = f;
  }

  // Lists the pockets that the change affects, before it is saved.
  async ask() {
    this.trouble = "";
    this.renderings = {};
    try {
      const found = await api.dryRunBrand(this.customer.id, $state.snapshot(this.values) as BrandValue[]);
      this.names = found.names;
      this.pockets = found.pockets;
      this.next = found.next ?? "";
      if (found.pockets.length == 0) return this.save();
      this.asking = true;
      for (const pocket of found.pockets.slice(0, 4)) void this.rendering(pocket);
    } catch (error) {
      this.#failed(error);
    }
  }

  async more() {
    this.trouble = "";
    try {
      const found = await api.dryRunBrand(this.customer.id, $state.snapshot(this.values) as BrandValue[], this.next);
      this.pockets.push(...found.pockets);
      this.next = found.next ?? "";
    } catch (error) {
      this.#failed(error);
    }
  }

  async rendering(pocket: Pocket) {
    try {
      const [before, after] = await Promise.all([api.preview(pocket.key, {}), api.preview(pocket.key, { brand: $state.snapshot(this.values) as BrandValue[] })]);
      this.renderings = { ...this.renderings, [pocket.key]: { before, after } };
    } catch (error) {
      this.#failed(error);
    }
  }

  // Somebody else has saved first: merges values that only one of the two changed.
  async #mergeTheirs(): Promise<void> {
    const theirs = await api.brand(this.customer.id);
    const byName = (values: BrandValue[]) => Object.fromEntries(values.map((v) => [v.name, $state.snapshot(v)]));
    const { merged, taken, contested } = together(byName(this.brand!.values), byName(this.values), byName(theirs.values));
    const label = (name: string) => [...this.values, ...theirs.values, ...theirs.names].find((v) => v.name == name)?.label ?? name;
    this.brand = theirs;
    this.values = Object.values(merged) as BrandValue[];
    if (taken.length + contested.length == 0) return this.save(); // another part of the customer
    const { what, hint } = inWords(taken, contested, label);
    this.trouble = `${what} ${hint}`;
  }

  async save(): Promise<void> {
    this.busy = true;
    this.trouble = "";
    try {
      this.#record(await api.changeBrand(this.customer.id, this.brand!.revision, $state.snapshot(this.values) as BrandValue[]));
      this.asking = false;
      this.said = this.pockets.length ? "Saved. Every visitor sees the change within a minute." : "Saved. New pockets use this brand. No existing pocket uses it, so nothing changes for visitors.";
      this.unused = this.pockets.length == 0;
    } catch (error) {
      this.asking = false;
      this.#failed(error);
      if (error instanceof Refused && error.code == "customer-changed") await this.#mergeTheirs().catch(() => {});
    } finally {
      this.busy = false;
    }
  }
}
