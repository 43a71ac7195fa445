<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const part = $derived(/^(-?[\d.]+)([a-z%]+)$/.exec(String(value ?? "")));
  const number = $derived(part ? +part[1] : 0);
  const unit = $derived(part?.[2] ?? setting.units?.[0] ?? "px");
</script>

<div class="flex gap-2">
  <input {id} type="number" class="field tabular-nums" value={number} min={setting.minimum} max={setting.maximum} step={unit == "px" ? 1 : 0.01} oninput={(e) => !Number.isNaN(e.currentTarget.valueAsNumber) && onchange(e.currentTarget.valueAsNumber + unit)} aria-describedby={describedby} aria-invalid={invalid} />
  <select class="field w-20 shrink-0" value={unit} onchange={(e) => onchange(number + e.currentTarget.value)} aria-label="{setting.label.en}: unit">
    {#each setting.units ?? [] as u (u)}<option value={u}>{u}</option>{/each}
  </select>
</div>
