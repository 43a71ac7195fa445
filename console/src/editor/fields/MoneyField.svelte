<script lang="ts">
  // An amount in the currency's smallest unit, shown and typed in whole units.
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const current = $derived(parts(value, { amount: 0, currency: "EUR" }));
  const currencies = Intl.supportedValuesOf("currency");
  const digits = (currency: string) => new Intl.NumberFormat("en", { style: "currency", currency }).resolvedOptions().maximumFractionDigits ?? 2;
  const size = $derived(10 ** digits(current.currency));
</script>

<div class="flex gap-2">
  <input {id} type="number" class="field tabular-nums" step={1 / size} value={current.amount / size} oninput={(e) => !Number.isNaN(e.currentTarget.valueAsNumber) && onchange({ ...current, amount: Math.round(e.currentTarget.valueAsNumber * size) })} aria-describedby={describedby} aria-invalid={invalid} />
  <select class="field w-24 shrink-0" value={current.currency} onchange={(e) => onchange({ amount: Math.round((current.amount / size) * 10 ** digits(e.currentTarget.value)), currency: e.currentTarget.value })} aria-label="{setting.label.en}: currency">
    {#each currencies as c (c)}<option value={c}>{c}</option>{/each}
  </select>
</div>
