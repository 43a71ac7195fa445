<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import Button from "../../ui/Button.svelte";
  import Colour from "../../ui/Colour.svelte";
  import { parts, type FieldProps } from "./types";

  type Stop = { colour: string; at: number };
  let { setting, value, id, onchange }: FieldProps = $props();
  const current = $derived(parts(value, { angle: 90, stops: [] as Stop[] }));
  const drawn = $derived(current.stops.map((s) => `${s.colour} ${s.at}%`).join(", "));

  function stop(i: number, change: Partial<Stop>) {
    const stops = current.stops.map((s, n) => (n == i ? { ...s, ...change } : s)).sort((a, b) => a.at - b.at);
    onchange({ ...current, stops });
  }
  const add = () => onchange({ ...current, stops: [...current.stops, { colour: current.stops.at(-1)?.colour ?? "#000000", at: 100 }] });
  const remove = (i: number) => onchange({ ...current, stops: current.stops.filter((_, n) => n != i) });
</script>

<div role="group" aria-labelledby="{id}-label" class="space-y-2">
  <div class="h-9 rounded-lg border border-edge" style:background="linear-gradient({current.angle}deg, {drawn})"></div>
  <div class="w-28"><Amount label="Angle" unit="degrees" min={0} max={360} value={current.angle} onchange={(angle) => onchange({ ...current, angle })} /></div>
  {#each current.stops as s, i (i)}
    <div class="flex items-end gap-2">
      <div class="min-w-0 flex-1"><Colour label="{setting.label.en}: colour {i + 1}" value={s.colour} onchange={(colour) => stop(i, { colour })} /></div>
      <div class="w-[4.5rem]"><Amount label="At, %" min={0} max={100} value={s.at} onchange={(at) => stop(i, { at })} /></div>
      {#if current.stops.length > 2}<button type="button" class="min-h-9 rounded px-1.5 text-soft hover:text-bad" aria-label="Delete colour {i + 1}" onclick={() => remove(i)}>✕</button>{/if}
    </div>
  {/each}
  {#if current.stops.length < 8}<Button kind="plain" class="min-h-8 px-3 text-sm" onclick={add}>Add a colour</Button>{/if}
</div>
