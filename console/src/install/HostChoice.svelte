<script lang="ts">
  // Selects the host: by search, or by what people can see of it.
  import { tick } from "svelte";
  import { focusOn } from "../ui/focus";
  import HostList from "./HostList.svelte";
  import type { Installing } from "./install.svelte";

  let { install }: { install: Installing } = $props();
  let open = $state(false);
  const choosing = $derived(open || !install.host);

  let heading: HTMLElement;

  async function choose(name: string) {
    open = false;
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
    <HostList hosts={install.hosts} first={install.wish.host} label="Host" {choose} />
    <p class="mt-2 text-sm text-soft">Not sure? The text below each name says how to recognise it.</p>
  {:else if install.host}
    <p class="rounded-lg border border-line bg-sheet px-3.5 py-2.5"><span class="block font-medium">{install.host.title}</span><span class="text-sm text-soft">{install.host.summary}</span></p>
  {/if}
</section>
