<script lang="ts">
  import Segments from "../../ui/Segments.svelte";
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const options = $derived((setting.options ?? []).map((o) => ({ value: o.value, label: o.label.en ?? o.value })));
</script>

{#if setting.control == "segments"}
  <Segments value={value as string} {options} labelledby="{id}-label" {onchange} />
{:else}
  <select {id} class="field" value={value as string} onchange={(e) => onchange(e.currentTarget.value)} aria-describedby={describedby} aria-invalid={invalid}>
    {#each options as option (option.value)}<option value={option.value}>{option.label}</option>{/each}
  </select>
{/if}
