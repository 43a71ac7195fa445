<script lang="ts">
  import Button from "../ui/Button.svelte";
  import { ago, exactly } from "../ui/time";
  import type { PocketEditor } from "./editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  $effect(() => void editor.loadPublications());
  const current = $derived(editor.pocket?.publication ?? 0);
</script>

<div class="px-5 py-5">
  <label class="flex items-start gap-3">
    <input type="checkbox" class="mt-1 size-4 accent-teal" checked={editor.follow} onchange={(e) => (editor.follow = e.currentTarget.checked)} />
    <span>
      <span class="font-medium">Follow new releases</span>
      <span class="block text-sm text-soft">From the next publication on, visitors get the widget's newest release that takes these settings. Otherwise they keep the one it was published with.</span>
    </span>
  </label>
  <h2 class="mt-6 mb-1 text-[13px] font-semibold tracking-wide text-teal">Publications</h2>
  {#if editor.publications.length == 0}
    <p class="text-soft">Nothing has been published yet.</p>
  {:else}
    <ol>
      {#each editor.publications as publication (publication.number)}
        <li class="flex items-center justify-between gap-4 border-b border-line py-3 last:border-0">
          <div class="min-w-0">
            <p>
              <span class="font-medium">Number {publication.number}</span>{#if publication.restores}, brings back number {publication.restores}{/if}
            </p>
            <p class="text-sm text-soft" title={exactly(publication.at)}>
              {ago(publication.at)} by {publication.by}, {publication.follow ? "follows releases since" : "release"}
              {publication.release}
            </p>
          </div>
          {#if publication.number == current}
            <span class="shrink-0 text-sm font-medium text-teal">Visitors get this</span>
          {:else}
            <Button kind="plain" class="min-h-8 shrink-0 px-3 text-sm" aria-label="Restore number {publication.number}" disabled={editor.publishing} onclick={() => editor.restore(publication.number)}>Restore</Button>
          {/if}
        </li>
      {/each}
    </ol>
    {#if editor.older}<Button kind="plain" class="mt-3" onclick={() => editor.loadPublications(true)}>Show older</Button>{/if}
    <p class="mt-4 text-sm text-soft">Restoring publishes an older state again, at once. The draft stays as it is.</p>
  {/if}
</div>
