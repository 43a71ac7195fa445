<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
</script>

<select {id} class="field" value={value as string} onchange={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
  {#each setting.options ?? [] as o (o.value)}<option value={o.value}>{o.label.en}</option>{/each}
</select>
