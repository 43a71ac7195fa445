<script lang="ts">
  // A number with a label before it, for values with several parts. onempty allows it to be empty.
  type Props = { value?: number; label: string; min?: number; max?: number; step?: number | "any"; unit?: string; onchange: (value: number) => void; onempty?: () => void };
  let { value, label, min, max, step = 1, unit = "", onchange, onempty }: Props = $props();

  function typed(at: HTMLInputElement) {
    if (!Number.isNaN(at.valueAsNumber)) onchange(at.valueAsNumber);
    else if (!at.validity.badInput) onempty?.();
  }
</script>

<label class="block min-w-0">
  <span class="mb-0.5 block truncate text-[13px] text-soft">{label}{unit ? `, ${unit}` : ""}</span>
  <input type="number" class="field tabular-nums" {value} {min} {max} {step} oninput={(e) => typed(e.currentTarget)} />
</label>
