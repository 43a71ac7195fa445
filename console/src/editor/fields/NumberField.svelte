<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const limits = $derived({ min: setting.minimum, max: setting.maximum, step: setting.step || "any" });
  const take = (e: Event) => {
    const n = (e.currentTarget as HTMLInputElement).valueAsNumber;
    if (!Number.isNaN(n)) onchange(n);
  };
</script>

<div class="flex items-center gap-3">
  {#if setting.control == "slider"}
    <input class="min-w-0 flex-1 accent-teal" type="range" {...limits} value={value as number} oninput={take} aria-labelledby="{id}-label" />
  {/if}
  <div class={["relative", setting.control == "slider" ? "w-24 shrink-0" : "w-full"]}>
    <input {id} class="field pe-9 tabular-nums" type="number" {...limits} value={value as number} oninput={take} aria-describedby={describedby} aria-invalid={invalid} />
    {#if setting.unit}<span class="pointer-events-none absolute inset-y-0 end-3 flex items-center text-sm text-soft">{setting.unit}</span>{/if}
  </div>
</div>
