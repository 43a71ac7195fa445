<script lang="ts">
  // Whether every visitor has the last publication.
  import type { Publishing } from "../publishing.svelte";

  let { publishing }: { publishing: Publishing } = $props();
</script>

{#if publishing.done?.confirmed && !publishing.pocket?.withheld}
  {#if publishing.left > 0}
    {" "}<span>Pages opened in the last minute can still show the previous version. Every visitor sees the new one in at most <span class="tabular-nums">{publishing.left}</span> s.</span>
  {:else}
    {" "}<span>Every visitor now sees number {publishing.done.number}.</span>
  {/if}
{/if}
