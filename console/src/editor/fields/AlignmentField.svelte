<script lang="ts">
  import Segments from "../../ui/Segments.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, onchange }: FieldProps = $props();
</script>

<Segments value={value as string} options={(setting.options ?? []).map((o) => ({ value: o.value, label: o.label.en ?? o.value }))} labelledby="{id}-label" {onchange} />
