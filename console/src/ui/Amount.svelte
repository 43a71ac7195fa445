<script lang="ts">
  // A number with a word before it, for values that are made of several.
  let { value, label, min, max, step = 1, unit = "", onchange }: { value: number; label: string; min?: number; max?: number; step?: number | "any"; unit?: string; onchange: (value: number) => void } = $props();
</script>

<label class="block min-w-0">
  <span class="mb-0.5 block truncate text-[13px] text-soft">{label}{unit ? `, ${unit}` : ""}</span>
  <input type="number" class="field tabular-nums" {value} {min} {max} {step} oninput={(e) => !Number.isNaN(e.currentTarget.valueAsNumber) && onchange(e.currentTarget.valueAsNumber)} />
</label>
