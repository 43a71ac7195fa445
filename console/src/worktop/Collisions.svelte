<script lang="ts">
  // Two people have changed one file. Nothing is overwritten: both are shown, and one decides.
  import Button from "../ui/Button.svelte";
  import type { Worktop } from "./worktop.svelte";

  let { worktop }: { worktop: Worktop } = $props();
</script>

<section role="alert" aria-label="Changed by two people" class="max-h-[50vh] overflow-auto border-b border-line bg-sheet px-5 py-3">
  {#each worktop.collisions as c (c.path)}
    <div class="mb-3">
      <div class="flex flex-wrap items-center justify-between gap-3">
        <p><strong>{c.by} has {c.theirs === null ? "removed" : "changed"} <code>{c.path}</code> while you were changing it.</strong> Nothing is lost yet: choose what stays. The other can be had back by Undo.</p>
        <span class="flex gap-2">
          <Button kind="plain" onclick={() => worktop.settle(c.path, true)}>Keep mine</Button>
          <Button kind="plain" onclick={() => worktop.settle(c.path, false)}>Take theirs</Button>
        </span>
      </div>
      <div class="mt-2 grid gap-3 sm:grid-cols-2">
        {#each [["Mine", worktop.folder.text(c.path)], ["Theirs", c.theirs ?? ""]] as [label, text] (label)}
          <figure class="min-w-0">
            <figcaption class="text-sm text-soft">{label}</figcaption>
            <pre class="max-h-48 overflow-auto rounded-lg bg-sunk p-3 font-mono text-[13px]">{text}</pre>
          </figure>
        {/each}
      </div>
    </div>
  {/each}
</section>
