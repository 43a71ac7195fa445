<script lang="ts">
  import type { FieldProps } from "./types";

  let { value, id, describedby, invalid, onchange }: FieldProps = $props();
</script>

<select {id} class="field" value={value as string} onchange={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
  {#each [1, 2, 3, 4, 5, 6] as level (level)}<option value={String(level)}>Heading {level}</option>{/each}
  <option value="none">No heading, plain text</option>
</select>
