<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import Colour from "../../ui/Colour.svelte";
  import Segments from "../../ui/Segments.svelte";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  const now = $derived(parts(value, { kind: "none", x: 0, y: 6, blur: 24, spread: 0, colour: "#00000033" }));
  const set = (change: Partial<typeof now>) => {
    // The first shadow is one that can be seen.
    if (change.kind && change.kind != "none" && now.blur == 0 && now.y == 0) change = { y: 6, blur: 24, ...change };
    onchange({ ...now, ...change });
  };
</script>

<div role="group" aria-labelledby="{id}-label" class="space-y-2">
  <Segments
    value={now.kind}
    label="{setting.label.en}: kind"
    options={[
      { value: "none", label: "None" },
      { value: "outside", label: "Outside" },
      { value: "inside", label: "Inside" },
    ]}
    onchange={(kind) => set({ kind })}
  />
  {#if now.kind != "none"}
    <div class="grid grid-cols-4 gap-2">
      <Amount label="Right" min={-100} max={100} value={now.x} onchange={(x) => set({ x })} />
      <Amount label="Down" min={-100} max={100} value={now.y} onchange={(y) => set({ y })} />
      <Amount label="Blur" min={0} max={200} value={now.blur} onchange={(blur) => set({ blur })} />
      <Amount label="Spread" min={-100} max={100} value={now.spread} onchange={(spread) => set({ spread })} />
    </div>
    <Colour label="{setting.label.en}: colour" value={now.colour} onchange={(colour) => set({ colour })} />
  {/if}
</div>
