<script lang="ts">
  import Segments from "../../ui/Segments.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
  const names: Record<string, string> = { start: "Start", center: "Centre", end: "End", justify: "Both" };
</script>

<Segments value={value as string} options={(setting.options ?? []).map((o) => ({ value: o.value, label: names[o.value] }))} labelledby="{id}-label" {onchange} />
