<script lang="ts">
  // Pointing, and the circumstances that are changed most: how wide, on what page.
  import { Popover } from "bits-ui";
  import Segments from "../../ui/Segments.svelte";
  import { pages, widths, words } from "../circumstances";
  import type { PocketEditor } from "../editor.svelte";
  import More from "./More.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const sight = $derived(editor.sight);
  const width = $derived(sight.circumstances.width ?? 0);
  const known = $derived(widths.some(([w]) => w == width));
  const hidden = $derived(words(sight.circumstances).filter(([key]) => key != "width" && key != "page").length);
</script>

<div class="flex flex-wrap items-center gap-x-3 gap-y-2 border-b border-line bg-sheet px-4 py-2">
  <button
    type="button"
    class={["tool inline-flex items-center gap-1.5 border", sight.pointing ? "border-teal bg-wash text-ink" : "border-transparent"]}
    aria-pressed={sight.pointing}
    onclick={() => sight.point(!sight.pointing)}
    title="Point at a part of the widget to open what made it (F2)"
  >
    <svg viewBox="0 0 16 16" class="size-4" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="1.5"><path d="M8 1v4M8 11v4M1 8h4M11 8h4" /><circle cx="8" cy="8" r="2.2" /></svg>
    Point
  </button>
  <Segments value={known ? String(width) : "own"} label="Width of the page" options={[...widths.map(([w, label]) => ({ value: String(w), label })), ...(known ? [] : [{ value: "own", label: `${width} px` }])]} onchange={(v) => v != "own" && sight.see({ width: Number(v) || undefined })} />
  <label class="flex items-center gap-1 text-sm text-soft max-md:hidden" title="Width of the page in pixels">
    <input type="number" class="field min-h-8 w-[5.25rem] py-0.5 tabular-nums" min="200" max="3840" step="10" value={width || ""} placeholder="any" aria-label="Width of the page in pixels" onchange={(e) => sight.see({ width: e.currentTarget.value ? Math.min(3840, Math.max(200, e.currentTarget.valueAsNumber)) : undefined })} /> px
  </label>
  <select class="field min-h-8 w-auto py-0.5 text-sm max-sm:hidden" aria-label="Page around the widget" value={sight.circumstances.page || "light"} onchange={(e) => sight.see({ page: e.currentTarget.value == "light" ? undefined : e.currentTarget.value })}>
    {#each pages as [value, label] (value)}<option {value}>{label}</option>{/each}
  </select>
  <Popover.Root>
    <Popover.Trigger class="tool border border-edge bg-sheet text-sm">Visitor, moment…{hidden ? ` (${hidden})` : ""}</Popover.Trigger>
    <Popover.Portal>
      <Popover.Content align="end" sideOffset={6} class="z-30 max-h-[min(80vh,var(--bits-floating-available-height))] w-[min(400px,calc(100vw-2rem))] overflow-y-auto rounded-xl border border-line bg-paper p-5 shadow-xl">
        <More {editor} />
      </Popover.Content>
    </Popover.Portal>
  </Popover.Root>
  <button type="button" class="tool ms-auto text-sm max-sm:hidden" onclick={() => sight.draw(true)} title="From the beginning, as for somebody who has just come">Play again</button>
</div>
