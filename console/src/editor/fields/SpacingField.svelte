<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  const sides = ["top", "right", "bottom", "left"] as const;
  const names = { top: "Top", right: "Right", bottom: "Bottom", left: "Left" };
  const current = $derived(parts(value, { top: 0, right: 0, bottom: 0, left: 0 }));
  const paired = $derived(current.top == current.bottom && current.left == current.right);
  let apart = $state(false);
  const bounds = $derived({ min: setting.minimum, max: setting.maximum });
</script>

<div role="group" aria-labelledby="{id}-label">
  {#if paired && !apart}
    <div class="flex flex-wrap items-end gap-3">
      <div class="w-32"><Amount label="Above and below" unit="px" {...bounds} value={current.top} onchange={(n) => onchange({ ...current, top: n, bottom: n })} /></div>
      <div class="w-32"><Amount label="Left and right" unit="px" {...bounds} value={current.left} onchange={(n) => onchange({ ...current, left: n, right: n })} /></div>
      <button type="button" class="min-h-9 rounded text-sm underline underline-offset-4" onclick={() => (apart = true)}>Set each side</button>
    </div>
  {:else}
    <div class="grid grid-cols-4 gap-2">
      {#each sides as side (side)}<Amount label={names[side]} {...bounds} value={current[side]} onchange={(n) => onchange({ ...current, [side]: n })} />{/each}
    </div>
  {/if}
</div>
