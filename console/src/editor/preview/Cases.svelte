<script lang="ts">
  // The pocket's preview cases, and the present conditions, which can become one.
  import type { Conditions } from "../../api/types";
  import { same } from "../../same";
  import type { PocketEditor } from "../editor.svelte";

  let { editor, unusual }: { editor: PocketEditor; unusual: [keyof Conditions, string][] } = $props();
  const sight = $derived(editor.sight);
  let naming = $state(false);
  let name = $state("");
  let trouble = $state("");
  const current = $derived(sight.cases.find((c) => same(sorted(c.conditions), sorted(sight.conditions))));
  const sorted = (c: Conditions) => Object.entries(c).filter(([, v]) => v).sort();

  async function forget(which: string) {
    trouble = "";
    await sight.drop(which).catch((error: Error) => (trouble = error.message));
  }
  async function keep(event: SubmitEvent) {
    event.preventDefault();
    trouble = "";
    try {
      await sight.keep(name.trim());
      naming = false;
      name = "";
    } catch (error) {
      trouble = (error as Error).message;
    }
  }
</script>

{#if sight.cases.length || unusual.length}
  <div class="flex flex-wrap items-center gap-1.5 border-b border-line bg-paper px-4 py-2 text-sm" role="group" aria-label="Preview cases">
    {#if sight.cases.length}
      <button type="button" class={["rounded-full border px-2.5 py-0.5", !sight.sheet && unusual.length == 0 ? "border-teal bg-sheet font-medium" : "border-transparent text-soft hover:text-ink"]} aria-pressed={!sight.sheet && unusual.length == 0} onclick={() => sight.apply({})}>Default</button>
      {#each sight.cases as which (which.name)}
        <button type="button" class={["rounded-full border px-2.5 py-0.5", !sight.sheet && current == which ? "border-teal bg-sheet font-medium" : "border-transparent text-soft hover:text-ink"]} aria-pressed={!sight.sheet && current == which} onclick={() => sight.apply(which.conditions)}>{which.name}</button>
      {/each}
      <button type="button" class={["rounded-full border px-2.5 py-0.5", sight.sheet ? "border-teal bg-sheet font-medium" : "border-transparent text-soft hover:text-ink"]} aria-pressed={sight.sheet} onclick={() => (sight.sheet = !sight.sheet)}>Side by side</button>
    {/if}
    {#if trouble}<span role="alert" class="text-bad">{trouble}</span>{/if}
    {#if unusual.length && !sight.sheet}
      {#each unusual as [key, words] (key)}
        <span class="inline-flex items-center rounded-full bg-sunk py-0.5 ps-2.5 pe-1"
          >{words}<button type="button" class="ms-1 grid size-5 place-items-center rounded-full text-soft hover:text-ink" aria-label="Reset: {words}" onclick={() => sight.see(key == "moment" ? { moment: undefined, frozen: undefined } : { [key]: undefined })}>✕</button></span
        >
      {/each}
      {#if editor.readonly}<button type="button" class="rounded px-1.5 text-soft underline underline-offset-4 hover:text-ink" onclick={() => sight.apply({})}>Reset conditions</button>
      {:else if current}
        <button type="button" class="rounded px-1.5 text-soft underline underline-offset-4 hover:text-ink" onclick={() => forget(current.name)}>Delete “{current.name}”</button>
      {:else if naming}
        <form class="flex items-center gap-1.5" onsubmit={keep}>
          <!-- svelte-ignore a11y_autofocus: the user has just opened it -->
          <input class="field min-h-8 w-48 py-0.5" placeholder="Name" aria-label="Name of the preview case" maxlength="60" bind:value={name} autofocus required onkeydown={(e) => e.key == "Escape" && (naming = false)} />
          <button type="submit" class="rounded px-1.5 font-medium underline underline-offset-4">Save</button>
        </form>
      {:else}
        <button type="button" class="rounded px-1.5 underline underline-offset-4" onclick={() => (naming = true)}>Save as preview case…</button>
        {#if sight.cases.length == 0}<button type="button" class="rounded px-1.5 text-soft underline underline-offset-4 hover:text-ink" onclick={() => sight.apply({})}>Reset conditions</button>{/if}
      {/if}
    {/if}
  </div>
{/if}
