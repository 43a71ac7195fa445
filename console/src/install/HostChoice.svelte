<script lang="ts">
  // Selects the host: by search, or by what people can see of it.
  import { tick } from "svelte";
  import { focusOn } from "../ui/focus";
  import { matches } from "../ui/search";
  import type { Installing } from "./install.svelte";

  let { install }: { install: Installing } = $props();
  let search = $state("");
  let open = $state(false);
  const found = $derived(install.hosts.filter((h) => matches(search, [h.title, h.summary, h.name, ...h.signs])));
  const choosing = $derived(open || !install.host);

  let heading: HTMLElement;

  async function choose(name: string) {
    open = false;
    search = "";
    install.choose({ host: name });
    await tick();
    focusOn(heading);
  }
</script>

<section aria-labelledby="host-heading">
  <div class="mb-2 flex items-baseline justify-between gap-3">
    <h2 id="host-heading" bind:this={heading} class="font-semibold">What is the page built with?</h2>
    {#if install.host && !open}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => (open = true)}>Change</button>{/if}
    {#if open && install.host}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => (open = false)}>Keep it</button>{/if}
  </div>
  {#if choosing}
    <input type="search" class="field" placeholder="Search: blog, shop, email, drag …" aria-label="Search hosts" bind:value={search} autocomplete="off" />
    <ul class="mt-2 max-h-[46vh] divide-y divide-line overflow-y-auto rounded-lg border border-line bg-sheet">
      {#each found as h (h.name)}
        <li>
          <button type="button" class="block w-full px-3.5 py-2.5 text-start hover:bg-sunk" aria-pressed={h.name == install.wish.host} onclick={() => choose(h.name)}>
            <span class="block font-medium">{h.title}</span>
            <span class="block text-sm text-soft">{h.signs[0]}</span>
          </button>
        </li>
      {:else}
        <li class="px-3.5 py-6 text-center text-soft">No hosts match. Search for something that you see there, such as “source view” or “sections”.</li>
      {/each}
    </ul>
    <p class="mt-2 text-sm text-soft">Not sure? The text below each name says how to recognise it.</p>
  {:else if install.host}
    <p class="rounded-lg border border-line bg-sheet px-3.5 py-2.5"><span class="block font-medium">{install.host.title}</span><span class="text-sm text-soft">{install.host.summary}</span></p>
  {/if}
</section>
