<script lang="ts">
  import AssetPicker from "../assets/AssetPicker.svelte";
  import { imagesOf, upload } from "../assets/upload";
  import { session } from "../../session/session.svelte";
  import { useEditor } from "../context";
  import { parts, type FieldProps } from "./types";

  let { setting, value, id, describedby, invalid, onchange }: FieldProps = $props();
  const editor = useEditor();
  const current = $derived(parts(value, { asset: "", alt: "", decorative: false, focus: { x: 50, y: 50 } }));
  const address = $derived(editor.library.address(current.asset));
  let busy = $state("");
  let trouble = $state("");
  let over = $state(false);
  // Takes a file that was dropped, pasted or picked here.
  async function take(file: File | undefined) {
    if (!file || busy || editor.readonly) return;
    trouble = "";
    busy = file.name;
    const made = await upload(editor.library, file, "image");
    busy = "";
    if ("ref" in made) set({ asset: made.ref, focus: { x: 50, y: 50 } });
    else trouble = made.trouble;
  }
  const set = (change: Partial<typeof current>) => onchange({ ...current, ...change });

  const focus = (x: number, y: number) => set({ focus: { x: Math.round(Math.min(100, Math.max(0, x))), y: Math.round(Math.min(100, Math.max(0, y))) } });
  function point(event: MouseEvent) {
    if (event.detail == 0) return; // a key press
    const box = (event.currentTarget as HTMLElement).getBoundingClientRect();
    focus(((event.clientX - box.left) / box.width) * 100, ((event.clientY - box.top) / box.height) * 100);
  }
  function nudge(event: KeyboardEvent) {
    const steps: Record<string, [number, number]> = { ArrowLeft: [-5, 0], ArrowRight: [5, 0], ArrowUp: [0, -5], ArrowDown: [0, 5] };
    const step = steps[event.key];
    if (!step) return;
    event.preventDefault();
    focus(current.focus.x + step[0], current.focus.y + step[1]);
  }
</script>

<div
  role="group"
  aria-labelledby="{id}-label"
  aria-describedby={describedby}
  class={["space-y-2 rounded-lg", over && "outline-2 outline-offset-4 outline-teal"]}
  ondragover={(e) => {
    if (session.guest || !e.dataTransfer?.types.includes("Files")) return;
    e.preventDefault();
    e.stopPropagation();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    over = false;
    const [file] = imagesOf(e.dataTransfer);
    if (session.guest || !file) return;
    e.preventDefault();
    e.stopPropagation();
    void take(file);
  }}
  onpaste={(e) => {
    const [file] = imagesOf(e.clipboardData);
    if (session.guest || !file) return;
    e.preventDefault();
    e.stopPropagation();
    void take(file);
  }}
>
  {#if current.asset}
    {#if address}
      <button type="button" class="relative block w-full cursor-crosshair overflow-hidden rounded-lg border border-edge bg-sunk" onclick={point} onkeydown={nudge} aria-label="Point that stays visible when the image is cropped: {current.focus.x} % from the left, {current.focus.y} % from the top. Move it with the arrow keys.">
        <img src={address} alt="" class="max-h-44 w-full object-contain" />
        <span class="pointer-events-none absolute size-5 -translate-1/2 rounded-full border-2 border-white bg-teal/60 shadow" style:left="{current.focus.x}%" style:top="{current.focus.y}%"></span>
      </button>
    {:else}
      <p class="text-sm text-bad">This image no longer exists. Choose another one.</p>
    {/if}
    <label class="block">
      <span class="mb-0.5 block text-[13px] text-soft">Text alternative</span>
      <input class="field" maxlength="300" value={current.alt} disabled={current.decorative} oninput={(e) => set({ alt: e.currentTarget.value })} aria-invalid={invalid} />
    </label>
    <label class="flex items-center gap-2.5 text-sm">
      <input type="checkbox" class="size-4 accent-teal" checked={current.decorative} onchange={(e) => set({ decorative: e.currentTarget.checked, alt: e.currentTarget.checked ? "" : current.alt })} />
      Decorative: no text alternative needed
    </label>
  {/if}
  {#if trouble}<p role="alert" class="text-sm text-bad">{trouble}</p>{/if}
  <div class="flex flex-wrap items-center gap-2">
    {#if !session.guest}
      <label class={["inline-flex min-h-9 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-4 py-1.5 font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk", busy && "pointer-events-none opacity-60"]}>
        <input type="file" class="sr-only" accept="image/*" aria-label="{setting.label.en}: upload a file" onchange={(e) => take(e.currentTarget.files?.[0])} />{busy ? "Uploading…" : "Upload"}
      </label>
    {/if}
    <AssetPicker kind="image" label={setting.label.en} chosen={current.asset} choose={(asset) => set({ asset, focus: { x: 50, y: 50 } })} words={current.asset ? "Choose another" : "Choose an image"} />
    {#if current.asset}<button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => set({ asset: "", alt: "", decorative: false })}>Clear</button>{/if}
    {#if !session.guest && !current.asset}<span class="text-sm text-soft max-sm:hidden">or drop a file here</span>{/if}
  </div>
  <p class="sr-only" role="status">{busy ? `Uploading ${busy}` : ""}</p>
</div>
