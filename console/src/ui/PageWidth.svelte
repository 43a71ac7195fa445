<script lang="ts">
  // The width of a previewed page in CSS pixels, 0 for the available width: some usual widths, and
  // any other.
  import Segments from "./Segments.svelte";

  let { width, usual, onchange }: { width: number; usual: [number, string][]; onchange: (width: number) => void } = $props();
  const known = $derived(usual.some(([w]) => w == width));
  const options = $derived([...usual.map(([w, label]) => ({ value: String(w), label })), ...(known ? [] : [{ value: "own", label: `${width} px` }])]);
</script>

<Segments value={known ? String(width) : "own"} label="Width of the page" {options} onchange={(v) => v != "own" && onchange(+v)} />
<label class="flex items-center gap-1 text-sm text-soft max-md:hidden" title="Width of the page in pixels">
  <input type="number" class="field min-h-8 w-[5.25rem] py-0.5 tabular-nums" min="200" max="3840" step="10" value={width || ""} placeholder="any" aria-label="Width of the page in pixels" onchange={(e) => onchange(e.currentTarget.value ? Math.min(3840, Math.max(200, e.currentTarget.valueAsNumber)) : 0)} /> px
</label>
