<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import { parts, type FieldProps } from "./types";

  let { value, id, onchange }: FieldProps = $props();
  type Rating = { value?: number; best: number };
  const current = $derived(parts<Rating>(value, { best: 5 }));
</script>

<div role="group" aria-labelledby="{id}-label" class="flex gap-2">
  <div class="w-28"><Amount label="Rating (optional)" min={0} max={current.best} step={0.5} value={current.value} onchange={(n) => onchange({ ...current, value: n })} onempty={() => onchange({ best: current.best })} /></div>
  <div class="w-28"><Amount label="Out of" min={1} max={100} value={current.best} onchange={(best) => onchange({ ...current, best })} /></div>
</div>
