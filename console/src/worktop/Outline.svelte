<script lang="ts">
  // All elements of the view, for selection with the keyboard.
  import type { Worktop } from "./worktop.svelte";

  let { worktop }: { worktop: Worktop } = $props();
  const source = $derived(worktop.folder.text("view.html"));
  const parts = $derived.by(() => {
    if (source != worktop.previews.elementsOf) return [];
    const depth: number[] = [];
    return worktop.previews.elements.map((e, mark) => {
      depth[mark] = e.parent < 0 ? 0 : depth[e.parent] + 1;
      const names = /\bclass\s*=\s*"([^"]*)"/.exec(source.slice(e.start, e.open))?.[1] ?? "";
      const name = names.replace(/\{\{[^}]*\}\}/g, " ").trim().split(/\s+/)[0];
      return { mark, depth: depth[mark], label: name ? `.${name}` : `<${e.name}>`, tag: e.name, settings: e.settings ?? [] };
    });
  });
</script>

<div class="px-5 py-5">
  <h2 class="text-lg font-semibold">Select a part</h2>
  <p class="mt-1 text-soft">Click a part of the preview. You then see its code here: the view, the style rules, the script lines and the settings. You can edit all of it in place.</p>
  {#if parts.length}
    <h3 class="mt-6 mb-2 font-semibold">All parts</h3>
    <ul>
      {#each parts as p (p.mark)}
        <li>
          <button
            type="button"
            class="flex min-h-6 w-full items-baseline gap-2 rounded px-2 py-0.5 text-start font-mono text-[13px] hover:bg-sunk"
            style:padding-inline-start="{8 + p.depth * 16}px"
            onmouseenter={() => worktop.previews.outline(p.mark)}
            onmouseleave={() => worktop.previews.outline(null)}
            onfocus={() => worktop.previews.outline(p.mark)}
            onblur={() => worktop.previews.outline(null)}
            onclick={() => worktop.previews.choose(p.mark)}
            >{p.label}{#if p.settings.length}<span class="truncate text-soft">{p.settings.join(", ")}</span>{/if}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
</div>
