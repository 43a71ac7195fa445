<script lang="ts">
  // All cases side by side, each in a page of its real width, scaled down.
  import { words } from "../conditions";
  import type { PocketEditor } from "../editor.svelte";
  import CaseFrame from "./CaseFrame.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const sight = $derived(editor.sight);
  const all = $derived([{ name: "Default", conditions: {} }, ...sight.cases]);
</script>

<div class="min-h-0 flex-1 overflow-y-auto bg-sunk p-5">
  <ul class="grid grid-cols-[repeat(auto-fill,minmax(min(300px,100%),1fr))] gap-5">
    {#each all as which (which.name)}
      <li class="overflow-hidden rounded-xl border border-line bg-sheet">
        <div class="flex items-baseline justify-between gap-3 px-4 py-2.5">
          <div class="min-w-0">
            <h2 class="truncate font-medium">{which.name}</h2>
            <p class="truncate text-[13px] text-soft">{words(which.conditions).map(([, w]) => w).join(" · ") || "Default conditions"}</p>
          </div>
          <button type="button" class="shrink-0 rounded text-sm underline underline-offset-4" aria-label="Open {which.name}" onclick={() => sight.apply(which.conditions)}>Open</button>
        </div>
        <CaseFrame {editor} {which} />
      </li>
    {/each}
  </ul>
</div>
