<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import Colour from "../../ui/Colour.svelte";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  const current = $derived(parts(value, { width: 1, style: "none", colour: "#000000" }));
  const set = (change: Partial<typeof current>) => onchange({ ...current, ...change });
  const styles = { none: "None", solid: "Line", dashed: "Dashed", dotted: "Dotted", double: "Double" };
</script>

<div role="group" aria-labelledby="{id}-label" class="space-y-2">
  <div class="grid grid-cols-2 gap-2">
    <label class="block"
      ><span class="mb-0.5 block text-[13px] text-soft">Kind</span>
      <select class="field" value={current.style} onchange={(e) => set({ style: e.currentTarget.value })}>
        {#each Object.entries(styles) as [style, name] (style)}<option value={style}>{name}</option>{/each}
      </select></label
    >
    {#if current.style != "none"}<Amount label="Width" unit="px" min={0} max={40} step={0.5} value={current.width} onchange={(width) => set({ width })} />{/if}
  </div>
  {#if current.style != "none"}<Colour label="{setting.label.en}: colour" value={current.colour} onchange={(colour) => set({ colour })} />{/if}
</div>
