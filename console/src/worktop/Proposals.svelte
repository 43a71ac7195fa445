<script lang="ts">
  // The values of an imported page that are likely settings, each with a tick, a label and a type.
  import { kindLabels } from "./refactor/propose";
  import type { PageIntake } from "./start.svelte";

  let { intake }: { intake: PageIntake } = $props();
  const list = $derived(intake.proposals);
  const taken = $derived(list.filter((p) => p.taken).length);
  const all = (on: boolean) => list.forEach((p) => (p.taken = on || !!p.key));
</script>

<section class="mt-6" aria-labelledby="proposals-heading">
  <div class="mb-2 flex flex-wrap items-baseline justify-between gap-x-4">
    <h3 id="proposals-heading" class="font-semibold">Settings for customers <span class="text-sm font-normal text-soft tabular-nums">{taken} of {list.length}</span></h3>
    {#if list.length}
      <span class="flex gap-3 text-sm">
        <button type="button" class="rounded underline underline-offset-4" onclick={() => all(true)}>Take all</button>
        <button type="button" class="rounded underline underline-offset-4" onclick={() => all(false)}>Take none</button>
      </span>
    {/if}
  </div>
  {#if list.length == 0}
    <p class="text-soft">There are no texts, links, images or colours that could be settings. You can make settings later from any value.</p>
  {:else}
    <ul class="divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
      {#each list as p, i (i)}
        <li class={["grid grid-cols-[auto_minmax(0,1fr)] items-center gap-x-3 gap-y-1.5 px-4 py-2 sm:grid-cols-[auto_minmax(0,1fr)_minmax(0,1fr)_11rem]", !p.taken && "opacity-70"]}>
          <input type="checkbox" class="size-4 accent-teal" bind:checked={p.taken} disabled={!!p.key} title={p.key ? "Images are always settings" : undefined} aria-label="Make “{p.label}” a setting" />
          <span class="flex min-w-0 items-center gap-2 font-mono text-[13px]">
            {#if p.kind == "colour" || p.kind == "gradient"}<span class="size-5 shrink-0 rounded border border-edge" style:background={p.found.text}></span>{/if}
            <span class="truncate" title={p.found.text}>{p.found.text}</span>
            {#if p.places.length > 1}<span class="shrink-0 font-sans text-soft">{p.places.length} places</span>{/if}
          </span>
          <input class="field min-h-8 py-1 max-sm:col-start-2" bind:value={p.label} maxlength="80" aria-label="Label of {p.found.text}" disabled={!p.taken} />
          <select class="field min-h-8 py-1 max-sm:col-start-2" bind:value={p.kind} aria-label="Type of {p.found.text}" disabled={!p.taken || p.kinds.length == 1}>
            {#each p.kinds as kind (kind)}<option value={kind}>{kindLabels[kind]}</option>{/each}
          </select>
        </li>
      {/each}
    </ul>
  {/if}
</section>
