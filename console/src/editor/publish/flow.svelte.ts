// Publishing for a host in one action: publishes what is new, copies the snippet for the host, shows
// its steps, and remembers the place for the customer's next pocket.
import { api } from "../../api/client";
import { explain } from "../../api/refused";
import type { Guide, UsedPlace } from "../../api/types";
import { copy } from "../../install/copy";
import { whyNotCopied } from "../../install/clipboard";
import type { Installing } from "../../install/install.svelte";
import { session } from "../../session/session.svelte";
import { focusBack } from "../../ui/focus";
import type { PocketEditor } from "../editor.svelte";
import { rulesFor, whereOf, wheres, type Where } from "./places";

export class Flow {
  places = $state.raw<UsedPlace[]>([]); // of the customer, the last used first
  busy = $state(""); // name of the host that it is being published for, or "now"
  trouble = $state("");
  wanted = $state(""); // the host that a guest has chosen; it is published after signing up
  asking = $state<(() => void) | null>(null); // asks once about sample entries, then goes on
  contradiction = $state(""); // why the chosen place does not fit the rules
  link = $state<{ host: string; where: string; address: string } | null>(null); // the last link to steps
  #chosen = $state<Where | null>(null);
  #sure = false; // the samples were decided about

  constructor(
    readonly editor: PocketEditor,
    readonly install: Installing,
    readonly open: (step: "set" | "install") => void,
  ) {
    install.onplace = () => void this.#remember();
  }

  async load() {
    const customer = this.editor.pocket?.customer;
    if (!customer) return; // the page reports why
    try {
      await this.install.names();
    } catch (error) {
      this.trouble = explain(error);
    }
    if (!session.guest) this.places = (await api.places(customer).catch(() => ({ places: [] }))).places;
  }

  // The place: chosen here, or by the rules, or as the last time.
  get where(): Where {
    if (this.#chosen !== null) return this.#chosen;
    const ruled = whereOf(this.editor.draft.about.cues as Parameters<typeof whereOf>[0]);
    const last = this.place?.where as Where | undefined;
    return ruled || (wheres.some(([w]) => w == last) && last != "home" ? last! : "");
  }

  choose(where: Where) {
    this.#chosen = where;
    const { cues, contradicts } = rulesFor(where, $state.snapshot(this.editor.draft.about.cues) as Parameters<typeof rulesFor>[1]);
    this.contradiction = contradicts ?? "";
    if (cues) this.editor.draft.set("pocket/cues", cues);
  }

  // Replaces the rules by the chosen place.
  insist() {
    this.contradiction = "";
    this.editor.draft.set("pocket/cues", { ...($state.snapshot(this.editor.draft.about.cues) as object), only: ["/"] });
  }

  // The position to install it at: as chosen here, by the rules, or as the last time there; "" for
  // the host's first.
  #whereFor(host: string): string {
    const place = this.place;
    const wanted = this.#chosen ?? (this.where || (place?.host == host && place.where != "home" ? place.where : ""));
    return this.install.hosts.find((h) => h.name == host)?.wheres.includes(wanted) ? wanted : "";
  }

  // The place that is proposed: that of this pocket, of its page's site, or the customer's last.
  get place(): { host: string; where: string } | undefined {
    if (this.install.wish.host) return this.install.wish;
    const site = siteOf(this.install.page.address);
    return (site && this.places.find((p) => p.site == site)) || this.places[0];
  }

  get host() {
    return this.install.hosts.find((h) => h.name == this.place?.host);
  }

  // Why a host does not have the chosen place, or "".
  unfit(host: { wheres: string[] }) {
    if (this.contradiction) return "Decide about the rule first.";
    if (!this.where || host.wheres.includes(this.where)) return "";
    return this.where == "home" ? "It cannot be limited to the home page there." : "There is no place for every page.";
  }

  // Publishes what is new, without a snippet.
  async publish() {
    if (!this.#ready(() => this.publish())) return;
    this.busy = "now";
    this.trouble = "";
    const before = document.activeElement;
    await this.editor.publishing.publish();
    this.busy = "";
    focusBack(before); // the button is disabled now
  }

  // Whether publishing can go on: nothing is missing, and the samples are decided about. If not,
  // shows the field, or asks.
  #ready(on: () => void): boolean {
    const [missing] = this.editor.missing;
    if (missing) {
      this.editor.notice = `Set “${missing.label.en}” before you publish.`;
      this.editor.go(missing.key);
      return false;
    }
    if (this.#sure || !this.editor.samplesLeft.length || this.editor.pocket!.publication > 0) return true;
    this.asking = () => {
      this.#sure = true;
      this.asking = null;
      on();
    };
    return false;
  }

  async publishFor(host: string) {
    this.trouble = "";
    if (this.busy || !this.#ready(() => this.publishFor(host))) return;
    if (session.guest) {
      this.wanted = host;
      return;
    }
    this.busy = host;
    const where = this.#whereFor(host);
    this.install.wish = { ...this.install.wish, ...(this.install.wish.host == host && this.install.wish.where == where ? {} : { delivery: "" }), host, where };
    const { publishing, draft } = this.editor;
    try {
      await draft.save();
      if (publishing.somethingNew) {
        await publishing.publish();
        if (publishing.trouble) return;
        this.install.drawnFor = this.editor.pocket!.newest;
      } else publishing.notice = "Visitors already see this draft.";
      await this.install.guide();
      const guide = this.install.guided?.guide;
      if (!guide) {
        this.trouble = this.install.trouble || "This widget cannot be installed there. Choose another position.";
        return;
      }
      this.open("install");
      await this.#copy(guide);
      this.install.arrived++;
      void this.#remember();
      void this.install.try();
    } catch (error) {
      session.expire(error);
      this.trouble = explain(error);
    } finally {
      this.busy = "";
    }
  }

  async #copy(guide: Guide) {
    const { publishing } = this.editor;
    const part = guide.parts[guide.steps.find((s) => s.part !== undefined)?.part ?? 0];
    if (!part || (guide.offer.delivery == "sealed" && !this.install.guided?.sealed)) return;
    try {
      await copy(part.text, part.rich);
      this.install.copied = part.text;
      publishing.notice += guide.parts.length > 1 ? ` The first of ${guide.parts.length} pieces of code for “${guide.title}” is copied.` : ` The snippet for “${guide.title}” is copied.`;
    } catch (error) {
      this.install.marked = part.text;
      publishing.notice += ` ${whyNotCopied(error)} The snippet is selected: press Ctrl+C or ⌘C.`;
    }
  }

  async #remember() {
    const { host, where } = this.install.wish;
    if (!session.edits || !where) return;
    await api.rememberPlace(this.editor.pocket!.customer, this.install.page.address.trim(), host, where).then((p) => (this.places = [p, ...this.places.filter((o) => o.site != p.site)]), () => {}); // only a convenience
  }

  // Copies a link to a page with the steps for somebody without an account. Makes the page first.
  async copySteps() {
    const { publishing } = this.editor;
    const place = this.place;
    if (!place) return this.editor.onpart("publish");
    try {
      if (!this.link || this.link.host != place.host || this.link.where != place.where) {
        const made = await api.handOver(this.editor.key, { host: place.host, where: place.where }, "");
        this.link = { host: place.host, where: place.where, address: made.link! };
      }
      await navigator.clipboard.writeText(this.link.address);
      publishing.notice = `The link to the steps is copied. It opens without an account: ${this.link.address}`;
    } catch (error) {
      session.expire(error);
      publishing.notice = this.link ? `${whyNotCopied(error)} The link: ${this.link.address}` : explain(error);
    }
  }
}

function siteOf(address: string): string {
  if (!address.trim()) return "";
  try {
    return new URL(address.includes("://") ? address : `https://${address}`).host.toLowerCase();
  } catch {
    return "";
  }
}
