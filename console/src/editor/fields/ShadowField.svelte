<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import Colour from "../../ui/Colour.svelte";
  import Segments from "../../ui/Segments.svelte";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  const current = $derived(parts(value, { kind: "none", x: 0, y: 6, blur: 24, spread: 0, colour: "#00000033" }));
  const set = (change: Partial<typeof current>) => {
    // Starts with a visible shadow.
    if (change.kind && change.kind != "none" && current.blur == 0 && current.y == 0) change = { y: 6, blur: 24, ...change };
    onchange({ ...current, ...change });
  };
</script>

<div role="group" aria-labelledby="{id}-label" class="space-y-2">
  <Segments
    value={current.kind}
    label="{setting.label.en}: kind"
    options={[
      { value: "none", label: "None" },
      { value: "outside", label: "Outside" },
      { value: "inside", label: "Inside" },
    ]}
    onchange={(kind) => set({ kind })}
  />
  {#if current.kind != "none"}
    <div class="grid grid-cols-4 gap-2">
      <Amount label="Right" min={-100} max={100} value={current.x} onchange={(x) => set({ x })} />
      <Amount label="Down" min={-100} max={100} value={current.y} onchange={(y) => set({ y })} />
      <Amount label="Blur" min={0} max={200} value={current.blur} onchange={(blur) => set({ blur })} />
      <Amount label="Spread" min={-100} max={100} value={current.spread} onchange={(spread) => set({ spread })} />
    </div>
    <Colour label="{setting.label.en}: colour" value={current.colour} onchange={(colour) => set({ colour })} />
  {/if}
</div>
