<script lang="ts">
  import Amount from "../../ui/Amount.svelte";
  import { parts, type FieldProps } from "./types";

  let { value, id, onchange }: FieldProps = $props();
  const now = $derived(parts(value, { value: 0, best: 5 }));
</script>

<div role="group" aria-labelledby="{id}-label" class="flex gap-2">
  <div class="w-28"><Amount label="Rating, 0 for none" min={0} max={now.best} step={0.5} value={now.value} onchange={(n) => onchange({ ...now, value: n })} /></div>
  <div class="w-28"><Amount label="Out of" min={1} max={100} value={now.best} onchange={(best) => onchange({ ...now, best })} /></div>
</div>
