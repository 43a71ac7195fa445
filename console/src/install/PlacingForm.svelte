<script lang="ts">
  // How the pocket is displayed where it is pasted. None of this is a setting of the pocket.
  import Segments from "../ui/Segments.svelte";
  import type { Installing } from "./install.svelte";

  let { install }: { install: Installing } = $props();
  const p = $derived(install.wish.placing);
  const delivery = $derived(install.guided?.guide?.offer.delivery ?? "");
  const component = $derived(delivery == "component");
  const chosen = $derived(Object.keys(p).length);
  const either = (name: keyof typeof p, given: [string, string][]) => ({ value: String(p[name] ?? ""), options: given.map(([value, label]) => ({ value, label })), onchange: (value: string) => install.place({ [name]: value }) });
</script>

<details class="rounded-lg border border-line bg-sheet">
  <summary class="flex min-h-11 cursor-pointer items-center justify-between gap-3 rounded-lg px-3.5 font-medium hover:bg-sunk">
    <span>Placement</span><span class="text-sm font-normal text-soft">{chosen ? `${chosen} changed` : "default"}</span>
  </summary>
  <div class="space-y-4 border-t border-line px-3.5 py-4">
    <p class="text-sm text-soft">Only for this snippet. The pocket's settings do not change.</p>
    {#if component}
      <div><p class="mb-1 font-medium" id="placing-framework">Framework</p><Segments labelledby="placing-framework" {...either("framework", [["react", "React"], ["vue", "Vue"], ["svelte", "Svelte"]])} value={p.framework ?? "react"} /></div>
    {/if}
    <div class="grid grid-cols-2 gap-3">
      <label class="block"><span class="mb-1 block font-medium">Maximum width</span><input class="field" placeholder="as the place" value={p.width ?? ""} oninput={(e) => install.place({ width: e.currentTarget.value.trim() })} aria-describedby="placing-width" /></label>
      <label class="block"><span class="mb-1 block font-medium">Height, px</span><input type="number" min="0" max="5000" class="field tabular-nums" placeholder="as the widget" value={p.height ?? ""} oninput={(e) => install.place({ height: Math.max(0, Math.round(e.currentTarget.valueAsNumber || 0)) })} /></label>
    </div>
    <p id="placing-width" class="-mt-2 text-sm text-soft">For example, 640px or 80%.</p>
    <div><p class="mb-1 font-medium" id="placing-align">Alignment</p><Segments labelledby="placing-align" {...either("align", [["", "at the start"], ["center", "in the middle"], ["end", "at the end"]])} /></div>
    <div>
      <p class="mb-1 font-medium">Background</p>
      <div class="flex items-center gap-2">
        <span class="relative size-[38px] shrink-0 overflow-hidden rounded-lg border border-edge" style:background={p.background || "repeating-conic-gradient(#c6d2d0 0 25%, #fff 0 50%) 0 0 / 12px 12px"}>
          <input type="color" class="absolute inset-0 size-full cursor-pointer opacity-0" value={p.background || "#ffffff"} oninput={(e) => install.place({ background: e.currentTarget.value })} aria-label="Background: pick a colour" />
        </span>
        <input class="field font-mono text-sm" placeholder="the page shows through" value={p.background ?? ""} oninput={(e) => install.place({ background: e.currentTarget.value.trim().toLowerCase() })} spellcheck="false" aria-label="Background, as #rrggbb" />
      </div>
    </div>
    <div><p class="mb-1 font-medium" id="placing-shadow">Shadow</p><Segments labelledby="placing-shadow" {...either("shadow", [["", "none"], ["soft", "soft"], ["deep", "deep"]])} /></div>
    <div><p class="mb-1 font-medium" id="placing-loading">Loading</p><Segments labelledby="placing-loading" {...either("loading", [["", "as usual"], ["early", "early"], ["near", "when it comes near"]])} /></div>
    <div>
      <p class="mb-1 font-medium" id="placing-fallback">Fallback</p>
      <Segments labelledby="placing-fallback" {...either("fallback", [["", "a link"], ["words", "words"], ["nothing", "nothing"]])} />
      {#if p.fallback != "nothing"}<input class="field mt-2" maxlength="200" placeholder="the pocket's title" value={p.words ?? ""} oninput={(e) => install.place({ words: e.currentTarget.value })} aria-label="Fallback text" />{/if}
    </div>
    {#if chosen}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => install.place(Object.fromEntries(Object.keys(p).map((k) => [k, undefined])))}>Reset</button>{/if}
  </div>
</details>
