<script lang="ts">
  // Lines that two people changed differently: shows both, and lets the user decide.
  import Button from "../ui/Button.svelte";
  import { passage } from "./both";
  import type { Worktop } from "./worktop.svelte";

  let { worktop }: { worktop: Worktop } = $props();
</script>

<section role="alert" aria-label="Changed by two people" class="max-h-[50vh] overflow-auto border-b border-line bg-sheet px-5 py-3">
  {#each worktop.saving.collisions as c (c.path)}
    <div class="mb-3">
      <div class="flex flex-wrap items-center justify-between gap-3">
        <p><strong>{c.by} has {c.theirs === null ? "removed" : "changed"} <code>{c.path}</code> at the same time as you.</strong> Choose a version. You can get the other one back with Undo.</p>
        <span class="flex gap-2">
          <Button kind="plain" onclick={() => worktop.saving.settle(c.path, true)}>Keep my version</Button>
          <Button kind="plain" onclick={() => worktop.saving.settle(c.path, false)}>Use their version</Button>
        </span>
      </div>
      <div class="mt-2 grid gap-3 sm:grid-cols-2">
        {#each [["Yours", worktop.folder.text(c.path)], [`What ${c.by} has saved`, c.theirs ?? ""]] as [label, text] (label)}
          {@const part = passage(text, c.base)}
          <figure class="min-w-0">
            <figcaption class="text-sm text-soft">{label}</figcaption>
            <!-- svelte-ignore a11y_no_noninteractive_tabindex: it scrolls -->
            <div tabindex="0" role="group" aria-label={label} class="max-h-48 overflow-auto rounded-lg bg-sunk py-2 font-mono text-[13px]">
              {#each text ? part.lines : [] as line, i (i)}
                <div class={["grid grid-cols-[2.75rem_minmax(0,1fr)] pe-3", line.changed && "bg-wash"]}><span class="pe-3 text-end text-soft select-none">{part.line + i}</span><code class="break-words whitespace-pre-wrap">{line.text}</code></div>
              {:else}<p class="px-3 text-soft">removed</p>{/each}
            </div>
          </figure>
        {/each}
      </div>
    </div>
  {/each}
</section>
