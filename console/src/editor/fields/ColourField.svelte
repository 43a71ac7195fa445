<script lang="ts">
  import type { FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const solid = $derived(String(value ?? "#000000").slice(0, 7));
</script>

<div class="flex items-center gap-2">
  <input type="color" class="size-[38px] shrink-0 cursor-pointer rounded-lg border border-edge bg-sheet p-1" value={solid} oninput={(e) => onchange(e.currentTarget.value + String(value ?? "").slice(7))} aria-label="{setting.label.en}: pick" />
  <input {id} class="field font-mono text-sm" value={(value as string) ?? ""} oninput={(e) => onchange(e.currentTarget.value)} spellcheck="false" aria-describedby={describedby} aria-invalid={invalid} />
</div>
