<script lang="ts">
  // A colour with its opacity: a picker, its notation, and the opacity.
  let { value, label, id, describedby, invalid = false, onchange }: { value: string; label: string; id?: string; describedby?: string; invalid?: boolean; onchange: (value: string) => void } = $props();
  const known = $derived(/^#([\da-f]{6}|[\da-f]{8})$/i.test(value));
  const solid = $derived(known ? value.slice(0, 7) : "#000000");
  const opacity = $derived(known && value.length == 9 ? Math.round(parseInt(value.slice(7), 16) / 2.55) : 100);

  const written = (colour: string, percent: number) => colour + (percent < 100 ? Math.round(percent * 2.55).toString(16).padStart(2, "0") : "");
</script>

<div class="flex items-center gap-2">
  <span class="relative size-[38px] shrink-0 overflow-hidden rounded-lg border border-edge" style:background="linear-gradient({value}, {value}), repeating-conic-gradient(#c6d2d0 0 25%, #fff 0 50%) 0 0 / 12px 12px">
    <input type="color" class="absolute inset-0 size-full cursor-pointer opacity-0" value={solid} oninput={(e) => onchange(written(e.currentTarget.value, opacity))} aria-label="{label}: pick" />
  </span>
  <input {id} class="field min-w-0 font-mono text-sm" {value} oninput={(e) => onchange(e.currentTarget.value)} spellcheck="false" aria-label={id ? undefined : label} aria-describedby={describedby} aria-invalid={invalid} />
  <label class="flex shrink-0 items-center gap-1 text-sm text-soft" title="Opacity">
    <input type="number" class="field w-[4.25rem] tabular-nums" min="0" max="100" step="1" value={opacity} oninput={(e) => onchange(written(solid, Math.min(100, Math.max(0, e.currentTarget.valueAsNumber || 0))))} aria-label="{label}: opacity in percent" />%
  </label>
</div>
