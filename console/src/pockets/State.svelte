<script lang="ts">
  import type { Pocket } from "../api/types";
  import { ago, exactly } from "../ui/time";

  let { pocket }: { pocket: Pick<Pocket, "state" | "publishedAt" | "withheld"> } = $props();
</script>

<span class="inline-flex items-center gap-x-2 whitespace-nowrap max-sm:flex-wrap">
  {#if pocket.withheld}
    <span class="size-2.5 rounded-sm bg-bad"></span>Withheld
  {:else if pocket.state == "unpublished"}
    <span class="size-2.5 rounded-full border-2 border-edge"></span>Not published yet
  {:else if pocket.state == "changed"}
    <span class="size-2.5 rounded-full bg-warn"></span>Draft changed
  {:else}
    <span class="size-2.5 rounded-full bg-teal"></span>Published <span class="text-soft" title={exactly(pocket.publishedAt!)}>{ago(pocket.publishedAt!)}</span>
  {/if}
</span>
