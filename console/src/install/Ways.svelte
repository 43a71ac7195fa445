<script lang="ts">
  // The best delivery with the reason, and the others with what they lose.
  import type { Offer } from "../api/types";
  import Button from "../ui/Button.svelte";
  import { shows, type Installing } from "./install.svelte";

  let { install }: { install: Installing } = $props();
  const current = $derived(install.guided?.guide?.offer);
  const best = $derived(install.guided?.choice.best ?? null);
  const useful = (o: Offer) => !["nothing", "code", "address", "astray"].includes(o.outcome.shows);
  const others = $derived(install.offers.filter((o) => o.delivery != current?.delivery));
  const text = (o: Offer) => (o.outcome.held ? `${shows[o.outcome.shows]}, once scripts are allowed` : shows[o.outcome.shows]);
</script>

<section aria-labelledby="way-heading">
  <h2 id="way-heading" class="mb-2 font-semibold">Delivery</h2>
  {#if current}
    <div class="rounded-lg border border-teal bg-sheet px-3.5 py-3">
      <p class="flex flex-wrap items-baseline gap-x-2"><span class="font-medium">{current.title}</span>{#if current.delivery == best?.delivery}<span class="rounded-full bg-wash px-2 text-sm">best here</span>{/if}</p>
      <p class="mt-1">{current.why}</p>
      <p class="mt-1 text-sm text-soft">Visitors get {text(current)}.</p>
      {#if current.loses?.length}
        <ul class="mt-2 space-y-1 border-t border-line pt-2 text-sm">
          {#each current.loses as line, i (i)}<li class="flex gap-2"><span aria-hidden="true" class="text-warn">−</span>{line}</li>{/each}
        </ul>
      {/if}
      {#if current.delivery == "sealed"}
        <div class="mt-3 flex flex-wrap items-center gap-3 border-t border-line pt-3 text-sm">
          {#if install.guided?.sealed}
            <p class="min-w-0 flex-1">Sealed: publication {install.guided.sealed.publication}{install.guided.sealed.newest ? ", the live version." : ". The live version is newer. Pages with this snippet keep the sealed version until you paste a new snippet."}</p>
            {#if !install.guided.sealed.newest}<Button kind="plain" class="text-sm" disabled={install.busy} onclick={() => install.seal()}>Seal the live version</Button>{/if}
          {:else}
            <p class="min-w-0 flex-1">First, save the live version as a script that never changes.</p>
            <Button class="text-sm" disabled={install.busy} onclick={() => install.seal()}>Seal</Button>
          {/if}
        </div>
      {/if}
    </div>
  {:else if install.guided}
    <p class="rounded-lg border border-line bg-sheet px-3.5 py-3">This widget cannot be installed there. Choose another position.</p>
  {/if}
  {#if others.length}
    <details class="mt-2">
      <summary class="min-h-8 cursor-pointer rounded py-1 text-sm text-soft hover:text-ink">{others.filter(useful).length} other {others.filter(useful).length == 1 ? "delivery" : "deliveries"}, and those that do not work here</summary>
      <ul class="mt-1 divide-y divide-line rounded-lg border border-line bg-sheet">
        {#each others as o (o.delivery)}
          <li class="px-3.5 py-2.5">
            <div class="flex items-baseline justify-between gap-3">
              <span class={["font-medium", !useful(o) && "text-soft"]}>{o.title}</span>
              {#if useful(o)}<button type="button" class="shrink-0 rounded text-sm underline underline-offset-4" onclick={() => install.choose({ delivery: o.delivery })} aria-label="Use this delivery: {o.title}">Use this</button>{/if}
            </div>
            <p class="text-sm text-soft">{useful(o) ? `Visitors get ${text(o)}.` : `Visitors would get ${text(o)}.`} {o.why}{#each o.loses ?? [] as line, i (i)}{" "}{line}{/each}</p>
          </li>
        {/each}
      </ul>
    </details>
  {/if}
</section>
