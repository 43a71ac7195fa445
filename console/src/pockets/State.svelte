<script lang="ts">
  import type { Pocket } from "../api/types";
  import { ago, exactly } from "../ui/time";

  let { pocket }: { pocket: Pick<Pocket, "state" | "publishedAt" | "withheld" | "releaseless"> } = $props();
</script>

{#snippet state(words: string, dot: string)}<span class="inline-flex items-center gap-2"><span class={dot}></span>{words}</span>{/snippet}

<span class="inline-flex items-center gap-x-2 whitespace-nowrap max-sm:flex-wrap">
  {#if pocket.withheld}
    {@render state("Withheld", "size-2.5 rounded-sm bg-bad")}
  {:else if pocket.state == "unpublished"}
    {@render state("Not published yet", "size-2.5 rounded-full border-2 border-edge")}
  {:else if pocket.state == "changed"}
    {@render state("Draft changed", "size-2.5 rounded-full bg-warn")}
  {:else}
    {@render state("Published", "size-2.5 rounded-full bg-teal")}
    <span class="text-soft" title={exactly(pocket.publishedAt!)}>{ago(pocket.publishedAt!)}</span>
  {/if}
  {#if pocket.releaseless}<span class="rounded-full bg-sunk px-2 text-[13px] text-warn" title="Every release of its widget has been withdrawn. You can edit and unpublish it, but not publish it.">No release</span>{/if}
</span>
