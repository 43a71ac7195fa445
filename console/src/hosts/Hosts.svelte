<script lang="ts">
  // The host profiles, for the operator: the built-in ones, and the operator's.
  import { api } from "../api/client";
  import { Refused, explain } from "../api/refused";
  import type { Fault, Hosts } from "../api/types";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Segments from "../ui/Segments.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import HostPage from "./HostPage.svelte";

  let { name }: { name: string } = $props();
  let list = $state.raw<Hosts | null>(null);
  let error = $state<Error | null>(null);
  let adding = $state(false);
  let text = $state("");
  let trouble = $state("");
  let faults = $state<Fault[]>([]);

  let proved = $state("countdown"); // the widget whose results are shown
  const deliveries = $derived(list ? list.deliveries.map((f) => f.delivery).filter((delivery) => list!.proved.some((p) => p.delivery == delivery)) : []);
  const cell = (host: string, delivery: string) => list!.proved.find((p) => p.host == host && p.delivery == delivery && p.widget == proved)?.shows;

  async function load() {
    error = null;
    try {
      list = await api.hosts();
    } catch (e) {
      session.expire(e);
      error = e as Error;
    }
  }
  load();
  async function add() {
    trouble = "";
    faults = [];
    let profile: Record<string, unknown>;
    try {
      profile = JSON.parse(text);
    } catch (e) {
      trouble = `This is not JSON: ${(e as Error).message}`;
      return;
    }
    const name = typeof profile?.name == "string" ? profile.name : "";
    if (!name) {
      trouble = "The profile has no name. Add “name” in lower-case letters.";
      return;
    }
    try {
      const made = await api.saveHost(name, { profile, revision: 0 });
      adding = false;
      router.go(`/hosts/${made.host.name}`);
    } catch (e) {
      trouble = explain(e);
      if (e instanceof Refused) faults = e.faults;
    }
  }
</script>

<svelte:head><title>Hosts · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-4xl px-5 py-10">
  {#if error}
    <Trouble {error} retry={load} />
  {:else if name && list}
    <HostPage {name} words={list.wheres} />
  {:else if list}
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1 class="text-2xl font-semibold tracking-tight">Hosts</h1>
        <p class="mt-1 text-soft">The kinds of sites, what each one allows, and how to install a pocket there.</p>
      </div>
      {#if session.operator}<Button onclick={() => (adding = true)}>New host</Button>{/if}
    </div>
    <ul class="mt-6 divide-y divide-line rounded-xl border border-line bg-sheet">
      {#each list.hosts as h (h.name)}
        <li class="relative flex flex-wrap items-baseline justify-between gap-x-6 gap-y-1 px-5 py-3.5 first:rounded-t-xl last:rounded-b-xl hover:bg-paper">
          <div class="min-w-0 flex-1 basis-80"><a href={`/hosts/${h.name}`} onclick={router.follow} class="font-medium after:absolute after:inset-0">{h.title}</a><p class="text-sm text-soft">{h.summary}</p></div>
          {#if h.own}<span class="rounded-full bg-wash px-2.5 text-sm">{h.ours ? "edited" : "own"}</span>{/if}
        </li>
      {/each}
    </ul>
    <section class="mt-12" aria-labelledby="lab-heading">
      <div class="flex flex-wrap items-end justify-between gap-4">
        <div>
          <h2 id="lab-heading" class="text-xl font-semibold tracking-tight">Host lab</h2>
          <p class="mt-1 text-soft">The results for visitors. Each delivery was pasted into a simulated host of each kind, published, and checked in a browser. Every result matches the prediction.</p>
        </div>
        <Segments value={proved} label="Widget" options={[{ value: "countdown", label: "A countdown" }, { value: "popup", label: "A pop-up" }]} onchange={(v) => (proved = v)} />
      </div>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
      <div class="mt-4 overflow-x-auto rounded-xl border border-line bg-sheet" tabindex="0" role="region" aria-labelledby="lab-heading">
        <table class="w-full text-sm whitespace-nowrap">
          <thead><tr class="border-b border-line text-soft"><th class="sticky start-0 bg-sheet px-4 py-2 text-start font-medium">Host</th>{#each deliveries as delivery (delivery)}<th class="px-3 py-2 text-start font-medium">{list.deliveries.find((f) => f.delivery == delivery)?.title ?? delivery}</th>{/each}</tr></thead>
          <tbody>
            {#each list.hosts.filter((h) => list!.proved.some((p) => p.host == h.name)) as h (h.name)}
              <tr class="border-b border-line last:border-0"><th scope="row" class="sticky start-0 min-w-44 bg-sheet px-4 py-2 text-start font-medium whitespace-normal">{h.title}</th>
                {#each deliveries as delivery (delivery)}{@const seen = cell(h.name, delivery)}<td class={["px-3 py-2", !seen || /nothing|code|address|astray/.test(seen) ? "text-soft" : /widget|screen/.test(seen) ? "font-medium text-teal" : ""]}>{seen || "–"}</td>{/each}</tr>
            {/each}
          </tbody>
        </table>
      </div>
    </section>
  {/if}
</main>
{#if adding}
  <Box title="New host" about="Enter a profile as JSON. docs/host-profiles.md describes the format, and hosts/ contains examples." wide onclose={() => (adding = false)} onsubmit={add}>
    <label class="mb-1 block font-medium" for="host-profile">Profile</label>
    <textarea id="host-profile" class="field font-mono text-[13px]" rows="14" spellcheck="false" placeholder={'{\n  "format": 1,\n  "name": "harbour-press",\n  "extends": "page-of-parts",\n  "language": "en",\n  "title": "Harbour Press"\n}'} bind:value={text} required></textarea>
    {#if trouble}<div role="alert" class="mt-2 text-bad"><p>{trouble}</p><ul class="mt-1 space-y-1 text-sm">{#each faults as f, i (i)}<li>{f.line ? `Line ${f.line}: ` : ""}{f.what} <span class="text-soft">{f.fix}</span></li>{/each}</ul></div>{/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (adding = false)}>Cancel</Button>
      <Button type="submit">Save host</Button>
    {/snippet}
  </Box>
{/if}
