<script lang="ts">
  // The pocket's starter, and a button to change it.
  import type { PocketEditor } from "../editor.svelte";
  import StarterBox from "./StarterBox.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  let open = $state(false);
  const current = $derived(editor.widget!.starters.find((s) => s.name == editor.draft.about.starter));
</script>

{#if editor.widget!.starters.length}
  <div class="flex items-baseline justify-between gap-3 border-b border-line px-5 py-3 text-sm">
    <p class="min-w-0 truncate text-soft">{#if current}Starter: <span class="font-medium text-ink">{current.title.en}</span>{:else}No starter{/if}</p>
    <button type="button" class="shrink-0 rounded underline underline-offset-4" onclick={() => (open = true)}>Change starter…</button>
  </div>
{/if}
{#if open}<StarterBox {editor} close={() => (open = false)} />{/if}
