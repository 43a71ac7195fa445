// What a row of the list, or several of them, can do without opening a pocket: duplicate it, copy a
// link to its steps, and publish for a host.
import { api } from "../api/client";
import { explain } from "../api/refused";
import type { Host, Pocket, UsedPlace } from "../api/types";
import { whyNotCopied } from "../install/clipboard";
import { copy } from "../install/copy";
import { session } from "../session/session.svelte";

export class Rows {
  notice = $state<{ text: string; key?: string; undo?: () => void } | null>(null);
  trouble = $state("");
  busy = $state(""); // key of the pocket, or name of the host
  // The pockets for which a host must be chosen, and what it is for.
  asking = $state.raw<{ does: "steps" | "publish"; pockets: Pocket[] } | null>(null);
  hosts = $state.raw<Host[]>([]);
  places = $state.raw<UsedPlace[]>([]);
  #links = new Map<string, string>();

  constructor(
    readonly reload: () => void,
    readonly floats: (widget: string) => boolean,
  ) {}

  async #do(busy: string, what: () => Promise<void>) {
    if (this.busy) return;
    this.busy = busy;
    this.trouble = "";
    this.notice = null;
    try {
      await what();
    } catch (error) {
      session.expire(error);
      this.trouble = explain(error);
    }
    this.busy = "";
  }

  duplicate = (pocket: Pocket) =>
    this.#do(pocket.key, async () => {
      const made = await api.duplicatePocket(pocket.key);
      this.notice = { text: `Duplicated as “${made.title}”.`, key: made.key, undo: () => void this.#do(made.key, () => api.deletePocket(made.key).then(() => this.reload())) };
      this.reload();
    });

  async #load(customer: string) {
    if (!this.hosts.length) this.hosts = (await api.hosts()).hosts;
    this.places = (await api.places(customer)).places;
  }

  // Copies a link to a page with the steps: for the customer's last host, or for one to choose.
  steps = (pocket: Pocket) =>
    this.#do(pocket.key, async () => {
      await this.#load(pocket.customer);
      const last = this.places[0];
      if (last) await this.#copySteps(pocket, last.host, last.where);
      else this.asking = { does: "steps", pockets: [pocket] };
    });

  async #copySteps(pocket: Pocket, host: string, where: string) {
    const id = `${pocket.key} ${host} ${where}`;
    const link = this.#links.get(id) ?? (await api.handOver(pocket.key, { host, where }, "")).link!;
    this.#links.set(id, link);
    const title = this.hosts.find((h) => h.name == host)?.title ?? host;
    try {
      await navigator.clipboard.writeText(link);
      this.notice = { text: `The link to the steps for “${title}” is copied. It opens without an account.` };
    } catch (error) {
      this.notice = { text: `${whyNotCopied(error)} The link: ${link}` };
    }
  }

  askPublish = (pockets: Pocket[]) =>
    this.#do("ask", async () => {
      await this.#load(pockets[0].customer);
      this.asking = { does: "publish", pockets };
    });

  choose = (host: string) => {
    const { does, pockets } = this.asking!;
    return this.#do(host, async () => {
      if (does == "steps") await this.#copySteps(pockets[0], host, "");
      else await this.#publishFor(pockets, host);
      this.asking = null;
    });
  };

  // Publishes what is new of several pockets, and copies their snippets for one page.
  async #publishFor(pockets: Pocket[], host: string) {
    const parts: string[] = [];
    let where = "";
    for (const p of pockets) {
      if (p.state != "published") {
        const { heightsOf } = await import("../editor/heights");
        await api.publish(p.key, p.revision, this.floats(p.widget) ? [] : await heightsOf(session.who!.publicBase, p.key), p.follow);
      }
      const guided = await api.guide(p.key, { host });
      if (!guided.guide) throw new Error(`“${p.title}” cannot be installed there. Choose another host.`);
      where ||= guided.install.where ?? "";
      parts.push(guided.guide.parts[guided.guide.steps.find((s) => s.part !== undefined)?.part ?? 0].text);
    }
    void api.rememberPlace(pockets[0].customer, "", host, where).catch(() => {}); // only a convenience
    const said = pockets.length == 1 ? "1 pocket is published" : `${pockets.length} pockets are published`;
    try {
      await copy(parts.join("\n"));
      this.notice = { text: `${said}, and ${pockets.length == 1 ? "its snippet is" : "their snippets are"} copied. Paste ${pockets.length == 1 ? "it" : "them"} into one page.` };
    } catch (error) {
      this.notice = { text: `${said}. ${whyNotCopied(error)} Open each pocket to copy its snippet.` };
    }
    this.reload();
  }
}
