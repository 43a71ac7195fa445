<script lang="ts">
  // Selecting parts, and the most frequent conditions: width and page.
  import { Popover } from "bits-ui";
  import PageWidth from "../../ui/PageWidth.svelte";
  import { pages, widths, words } from "../conditions";
  import type { PocketEditor } from "../editor.svelte";
  import More from "./More.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const sight = $derived(editor.sight);
  const width = $derived(sight.conditions.width ?? 0);
  const hidden = $derived(words(sight.conditions).filter(([key]) => key != "width" && key != "page").length);
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line bg-sheet px-4 py-2">
  <button
    type="button"
    class={["tool inline-flex items-center gap-1.5 border", sight.pointing ? "border-teal bg-wash text-ink" : "border-transparent"]}
    aria-pressed={sight.pointing}
    onclick={() => sight.point(!sight.pointing)}
    title="Select a part of the widget to open its settings (F2)"
  >
    <svg viewBox="0 0 16 16" class="size-4" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="1.5"><path d="M8 1v4M8 11v4M1 8h4M11 8h4" /><circle cx="8" cy="8" r="2.2" /></svg>
    Select
  </button>
  <PageWidth {width} usual={widths} onchange={(w) => sight.see({ width: w || undefined })} />
  <select class="field min-h-8 w-auto py-0.5 text-sm max-sm:hidden" aria-label="Sample page" value={sight.conditions.page || "light"} onchange={(e) => sight.see({ page: e.currentTarget.value == "light" ? undefined : e.currentTarget.value })}>
    {#each pages as [value, label] (value)}<option {value}>{label}</option>{/each}
  </select>
  <Popover.Root>
    <Popover.Trigger class="tool border border-edge bg-sheet text-sm">More conditions…{hidden ? ` (${hidden})` : ""}</Popover.Trigger>
    <Popover.Portal>
      <Popover.Content align="end" sideOffset={6} class="z-30 max-h-[min(80vh,var(--bits-floating-available-height))] w-[min(400px,calc(100vw-2rem))] overflow-y-auto rounded-xl border border-line bg-paper p-5 shadow-xl">
        <More {editor} />
      </Popover.Content>
    </Popover.Portal>
  </Popover.Root>
  <button type="button" class="tool ms-auto text-sm max-sm:hidden" onclick={() => sight.draw(true)} title="From the start, as a new visitor sees it">Play again</button>
</div>
