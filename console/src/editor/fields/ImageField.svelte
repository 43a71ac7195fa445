<script lang="ts">
  import AssetPicker from "../assets/AssetPicker.svelte";
  import { useEditor } from "../context";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const now = $derived(parts(value, { asset: "", alt: "", decorative: false, focus: { x: 50, y: 50 } }));
  const address = $derived(editor.library.address(now.asset));
  const set = (change: Partial<typeof now>) => onchange({ ...now, ...change });

  const focus = (x: number, y: number) => set({ focus: { x: Math.round(Math.min(100, Math.max(0, x))), y: Math.round(Math.min(100, Math.max(0, y))) } });
  function point(event: MouseEvent) {
    if (event.detail == 0) return; // pressed by a key
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    focus(((event.clientX - box.left) / box.width) * 100, ((event.clientY - box.top) / box.height) * 100);
  }
  function nudge(event: KeyboardEvent) {
    const steps: Record<string, [number, number]> = { ArrowLeft: [-5, 0], ArrowRight: [5, 0], ArrowUp: [0, -5], ArrowDown: [0, 5] };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    focus(now.focus.x + step[0], now.focus.y + step[1]);
  }
</script>

<div role="group" aria-labelledby="{id}-label" aria-describedby={describedby} class="space-y-2">
  {#if now.asset}
    {#if address}
      <button type="button" class="relative block w-full cursor-crosshair overflow-hidden rounded-lg border border-edge bg-sunk" onclick={point} onkeydown={nudge} aria-label="Point that stays visible when the image is cropped: {now.focus.x} % from the left, {now.focus.y} % from the top. Move it with the arrow keys.">
        <img src={address} alt="" class="max-h-44 w-full object-contain" />
        <span class="pointer-events-none absolute size-5 -translate-1/2 rounded-full border-2 border-white bg-teal/60 shadow" style:left="{now.focus.x}%" style:top="{now.focus.y}%"></span>
      </button>
    {:else}
      <p class="text-sm text-bad">This image no longer exists. Choose another one.</p>
    {/if}
    <label class="block">
      <span class="mb-0.5 block text-[13px] text-soft">Text alternative</span>
      <input class="field" maxlength="300" value={now.alt} disabled={now.decorative} oninput={(e) => set({ alt: e.currentTarget.value })} aria-invalid={invalid} />
    </label>
    <label class="flex items-center gap-2.5 text-sm">
      <input type="checkbox" class="size-4 accent-teal" checked={now.decorative} onchange={(e) => set({ decorative: e.currentTarget.checked, alt: e.currentTarget.checked ? "" : now.alt })} />
      Decorative: no text alternative needed
    </label>
  {/if}
  <div class="flex gap-2">
    <AssetPicker kind="image" label={setting.label.en} chosen={now.asset} choose={(asset) => set({ asset, focus: { x: 50, y: 50 } })} words={now.asset ? "Choose another" : "Choose an image"} />
    {#if now.asset}<button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => set({ asset: "", alt: "", decorative: false })}>Remove</button>{/if}
  </div>
</div>
