<script lang="ts">
  // A notice of the sources that have failed for a day or have ended.
  import { sources as api } from "../api/sources";
  import type { FailingSource } from "../api/types";
  import { router } from "../router.svelte";
  import { ago } from "../ui/time";
  import { lasting } from "./words";

  const few = 3;
  let list = $state.raw<FailingSource[]>([]);
  let all = $state(false);
  // Without the notice the page is still complete, and its own requests report what is wrong.
  api.failing().then((found) => (list = found), () => {});
</script>

<div role="status">
  {#if list.length}
    <div class="mt-5 rounded-xl border border-warn/50 bg-sheet px-5 py-3.5">
      <p class="font-medium">{list.length == 1 ? "A source needs attention" : `${list.length} sources need attention`}</p>
      <ul class="mt-1.5 space-y-1.5">
        {#each all ? list : list.slice(0, few) as s (s.id)}
          <li class="text-sm">
            <a class="rounded font-medium underline underline-offset-4" href={`/customers/${s.customer}?tab=sources`} onclick={router.follow}>{s.name}</a>
            {s.ended ? "is not fetched any more." : `has not been reached ${lasting(s.since)}.`}
            <span class="text-soft">{s.why} {s.changedAt ? `Visitors see the items of ${ago(s.changedAt)}.` : ""}</span>
          </li>
        {/each}
      </ul>
      {#if list.length > few}<button type="button" class="mt-2 rounded text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => (all = !all)}>{all ? "Show fewer" : `Show ${list.length - few} more`}</button>{/if}
    </div>
  {/if}
</div>
