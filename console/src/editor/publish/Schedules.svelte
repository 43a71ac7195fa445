<script lang="ts">
  // The waiting schedules, and the results of earlier ones.
  import { session } from "../../session/session.svelte";
  import { inWords } from "../conditions";
  import type { Publishing } from "../publishing.svelte";
  import type { Schedule } from "../../api/types";

  let { publishing }: { publishing: Publishing } = $props();
  const when = (s: Schedule) => inWords(s.moment);
  const does = (s: Schedule) => (s.does == "publish" ? "Publish the saved draft" : s.does == "restore" ? `Restore number ${s.number}` : "Unpublish");
  const failed = $derived(publishing.schedules.filter((s) => s.outcome == "failed").slice(0, 3));
  $effect(() => {
    const look = setInterval(() => publishing.poll(), 2000);
    return () => clearInterval(look);
  });
</script>

{#if publishing.waiting.length || failed.length}
  <h2 class="mt-6 mb-1 text-[13px] font-semibold tracking-wide text-teal">Scheduled</h2>
  <ul>
    {#each publishing.waiting as s (s.id)}
      <li class="flex items-start justify-between gap-4 border-b border-line py-3 last:border-0">
        <div class="min-w-0">
          <p class="font-medium">{does(s)}</p>
          <p class="text-sm text-soft">{when(s)}, by {s.by}</p>
          {#if s.odd}<p class="text-sm text-warn">{s.odd}</p>{/if}
        </div>
        <button type="button" disabled={session.views} class="shrink-0 rounded text-sm underline underline-offset-4" aria-label="Cancel: {does(s)}" onclick={() => publishing.cancel(s.id)}>Cancel</button>
      </li>
    {/each}
    {#each failed as s (s.id)}
      <li class="border-b border-line py-3 last:border-0">
        <p class="font-medium text-bad">{does(s)} failed</p>
        <p class="text-sm text-soft">{when(s)}. {s.why}</p>
      </li>
    {/each}
  </ul>
{/if}
