<script lang="ts">
  // An ISO 8601 duration, "PT8S", as a number in the most suitable unit.
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const sizes: Record<string, number> = { seconds: 1, minutes: 60, hours: 3600, days: 86400 };
  const part = $derived(/^P(?:(\d+)D)?(?:T(?:(\d+)H)?(?:(\d+)M)?(?:([\d.]+)S)?)?$/.exec(String(value ?? "")));
  const seconds = $derived(part ? +(part[1] ?? 0) * 86400 + +(part[2] ?? 0) * 3600 + +(part[3] ?? 0) * 60 + +(part[4] ?? 0) : 0);
  let chosen = $state("");
  const unit = $derived(chosen || (["days", "hours", "minutes"].find((u) => seconds > 0 && seconds % sizes[u] == 0) ?? "seconds"));
  const letters: Record<string, string> = { seconds: "S", minutes: "M", hours: "H", days: "D" };
  const written = (n: number, u: string) => (u == "days" ? `P${n}D` : `PT${n}${letters[u]}`);

  function change(n: number, u: string) {
    if (Number.isNaN(n)) return;
    // Only seconds have decimals.
    onchange(u == "seconds" || Number.isInteger(n) ? written(n, u) : written(Math.round(n * sizes[u]), "seconds"));
  }
</script>

<div class="flex gap-2">
  <input {id} type="number" class="field tabular-nums" min="0" step={unit == "seconds" ? 0.5 : 1} value={seconds / sizes[unit]} oninput={(e) => change(e.currentTarget.valueAsNumber, unit)} aria-describedby={describedby} aria-invalid={invalid} />
  <select
    class="field w-32 shrink-0"
    value={unit}
    onchange={(e) => {
      const n = seconds / sizes[unit];
      chosen = e.currentTarget.value;
      change(n, chosen);
    }}
    aria-label="{setting.label.en}: unit"
  >
    {#each Object.keys(sizes) as u (u)}<option value={u}>{u}</option>{/each}
  </select>
</div>
