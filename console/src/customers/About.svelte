<script lang="ts">
  // A customer's sites, and the time zone and language of new widgets.
  import { tick } from "svelte";
  import { api } from "../api/client";
  import { Refused } from "../api/refused";
  import type { Customer } from "../api/types";
  import { session } from "../session/session.svelte";
  import { same } from "../same";
  import Button from "../ui/Button.svelte";
  import { zones } from "../ui/zones";
  import { inWords, together } from "./together";

  let { customer, onchange }: { customer: Customer; onchange: (customer: Customer) => void } = $props();
  // svelte-ignore state_referenced_locally: the form starts with the present values
  let it = $state(typed(customer));
  let trouble = $state<{ what: string; hint: string } | null>(null);
  let said = $state("");
  function typed(c: Customer) {
    return { name: c.name, zone: c.zone, language: c.language ?? "", sites: c.sites.join("\n") };
  }
  const labels: Record<string, string> = { name: "Name", zone: "Time zone", language: "Language", sites: "Sites" };
  const changed = $derived(!same(it, typed(customer)));

  async function save(): Promise<void> {
    trouble = null;
    said = "";
    try {
      const saved = await api.changeCustomer(customer.id, customer.revision, { name: it.name, zone: it.zone, language: it.language, sites: it.sites.split(/[\s,]+/).filter(Boolean) });
      it = typed(saved);
      onchange(saved);
      said = "Saved.";
    } catch (error) {
      session.expire(error);
      trouble = { what: (error as Error).message, hint: error instanceof Refused ? error.hint : "" };
      if (error instanceof Refused && error.code == "customer-changed") await mergeTheirs().catch(() => {});
    }
  }
  // Somebody else has saved first.
  async function mergeTheirs(): Promise<void> {
    const theirs = await api.customer(customer.id);
    const { merged, taken, contested } = together(typed(customer), it, typed(theirs));
    it = merged as typeof it;
    onchange(theirs);
    await tick();
    if (taken.length + contested.length == 0) return save(); // another part of the customer
    trouble = inWords(taken, contested, (key) => labels[key]);
  }
</script>

<form
  onsubmit={(e) => {
    e.preventDefault();
    void save();
  }}
  class="max-w-xl">
  <fieldset disabled={!session.edits} class="space-y-5">
    <div>
      <label class="mb-1.5 block font-medium" for="c-name">Name</label>
      <input id="c-name" class="field" maxlength="120" bind:value={it.name} required />
    </div>
    <div>
      <label class="mb-1.5 block font-medium" for="c-sites">Sites</label>
      <textarea id="c-sites" class="field font-mono text-sm" rows="4" bind:value={it.sites} placeholder={"shop.example\n*.shop.example"} aria-describedby="c-sites-about"></textarea>
      <p id="c-sites-about" class="mt-1.5 text-sm text-soft">One domain per line, with or without www. *. includes all subdomains.</p>
    </div>
    <div>
      <label class="mb-1.5 block font-medium" for="c-zone">Time zone</label>
      <input id="c-zone" class="field" list="c-zones" bind:value={it.zone} autocomplete="off" spellcheck="false" required aria-describedby="c-zone-about" />
      <datalist id="c-zones">{#each zones as zone (zone)}<option value={zone}></option>{/each}</datalist>
      <p id="c-zone-about" class="mt-1.5 text-sm text-soft">The default for dates and times.</p>
    </div>
    <div>
      <label class="mb-1.5 block font-medium" for="c-language">Language</label>
      <input id="c-language" class="field" bind:value={it.language} placeholder="the widget's first language" autocomplete="off" spellcheck="false" aria-describedby="c-language-about" />
      <p id="c-language-about" class="mt-1.5 text-sm text-soft">A tag such as en, de or pt-BR. New pockets use it if the widget supports it.</p>
    </div>
    {#if session.edits}<Button type="submit" disabled={!changed}>Save</Button>{/if}
  </fieldset>
  <div role="alert" class="mt-3">{#if trouble}<p class="font-medium text-bad">{trouble.what}</p><p class="text-soft">{trouble.hint}</p>{/if}</div>
  <p role="status" class="text-soft">{said}</p>
</form>
