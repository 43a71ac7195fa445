<script lang="ts">
  // The changes in the widget from which this one was copied, and a button to merge them.
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Differences from "./Differences.svelte";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, onclose }: { worktop: Worktop; onclose: () => void } = $props();
  const o = $derived(worktop.origin!);
</script>

<Box title="{o.widget} has changed since release {o.release}" about="Its newest release is {o.newest}. Changes are merged into your copy. If both changed the same lines, yours are kept." wide {onclose} onsubmit={() => (worktop.mergeOrigin(), onclose())}>
  <h3 class="font-semibold">Changes in the original</h3>
  <Differences changes={o.changes} />
  {#if o.collisions.length}
    <h3 class="mt-6 font-semibold">Changed in both <span class="text-sm font-normal text-soft tabular-nums">{o.collisions.length}</span></h3>
    <p class="text-sm text-soft">Your version stays. To use theirs, edit it by hand.</p>
    <ul class="mt-2 space-y-3">
      {#each o.collisions as c (`${c.path}${c.line}`)}
        <li class="rounded-lg border border-line bg-sheet px-3 py-2">
          <p class="font-mono text-[13px]">{c.path}:{c.line}</p>
          <div class="mt-1 grid gap-3 sm:grid-cols-2">
            {#each [["Yours, which stays", c.mine], ["Theirs", c.theirs]] as [label, text] (label)}
              <figure class="min-w-0">
                <figcaption class="text-sm text-soft">{label}</figcaption>
                <pre class="max-h-40 overflow-auto rounded bg-sunk p-2 font-mono text-[12px]">{text || "nothing"}</pre>
              </figure>
            {/each}
          </div>
        </li>
      {/each}
    </ul>
  {/if}
  {#snippet actions()}
    <Button kind="plain" onclick={onclose}>Cancel</Button>
    <Button type="submit">Merge changes</Button>
  {/snippet}
</Box>
