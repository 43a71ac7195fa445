<script lang="ts">
  // The sources of the selected part: its piece of the view, the rules that match it, the lines of
  // script that use it, and the settings and messages behind it.
  import ChangeSetting, { type Way } from "./ChangeSetting.svelte";
  import Code from "./code/Code.svelte";
  import { untrack } from "svelte";
  import Outline from "./Outline.svelte";
  import { behind, type Behind } from "./behind";
  import { Pieces, type Kept } from "./pieces";
  import type { At } from "./script";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, onopen }: { worktop: Worktop; onopen: (at: At) => void } = $props();
  const folder = $derived(worktop.folder);
  // svelte-ignore state_referenced_locally: one worktop per page
  const pieces = new Pieces(worktop.folder);
  type Arranged = Behind & { properties: Record<string, string>; kept: Map<unknown, Kept> };
  let found = $state.raw<Arranged | null>(null);

  // Searched again when the frame reports the part, after each change that it shows, but not at
  // each keystroke: the pieces follow what is typed.
  $effect(() => {
    const part = worktop.previews.part;
    untrack(() => {
      if (!part) return void (found = null);
      const b = behind(worktop, part);
      const kept = new Map<unknown, Kept>();
      const place = (what: unknown, path: string, range: { from: number; to: number } | null) => range && kept.set(what, pieces.at(path, range.from, range.to));
      place("view", "view.html", b.view);
      for (const p of [...b.rules, ...b.around, ...b.statements, ...b.messages]) place(p, p.path, p);
      for (const s of b.settings) place(s, "settings.json", s.range);
      pieces.settle();
      found = { ...b, properties: part.properties, kept };
    });
  });
  let around = $state(false);
  let changing = $state<{ way: Way; key: string } | null>(null);

  const line = (path: string, from: number) => folder.text(path).slice(0, from).split("\n").length;
  const undo = () => worktop.undo();
  const redo = () => worktop.redo();

  // Adds a rule for the selected part at the end of the stylesheet.
  function addRule() {
    const style = folder.text("style.css");
    const selector = found!.selector;
    folder.change(`adding a rule for ${selector}`, { "style.css": `${style}${style && !style.endsWith("\n") ? "\n" : ""}${selector} { }\n` });
    onopen({ path: "style.css", line: folder.text("style.css").trimEnd().split("\n").length, column: selector.length + 4 });
  }
</script>

{#snippet piece(what: unknown)}
  {@const kept = found?.kept.get(what)}
  {#if kept}
    <div class="overflow-hidden rounded-lg border border-line">
      {#key kept.key}<Code {folder} path={kept.piece.path} piece={kept.piece} faults={worktop.faults} vocabulary={worktop.vocabulary} {undo} {redo} onsetting={(...where) => worktop.makeSetting(...where)} />{/key}
    </div>
  {/if}
{/snippet}

{#snippet where(what: unknown)}
  {@const kept = found?.kept.get(what)}
  {#if kept}
    {@const at = line(kept.piece.path, kept.piece.from)}
    <button type="button" class="rounded font-mono text-[13px] text-teal underline-offset-4 hover:underline" onclick={() => onopen({ path: kept.piece.path, line: at, column: 1 })}>{kept.piece.path}:{at}</button>
  {/if}
{/snippet}

{#snippet head(title: string, count?: number)}
  <h3 class="mt-6 mb-2 flex items-baseline gap-2 font-semibold first:mt-0">{title}{#if count}<span class="text-sm font-normal text-soft tabular-nums">{count}</span>{/if}</h3>
{/snippet}

<div class="h-full overflow-y-auto">
  {#if !found}
    <Outline {worktop} />
  {:else}
    <div class="sticky top-0 z-10 border-b border-line bg-sheet px-5 py-3">
      <div class="flex items-baseline justify-between gap-3">
        <nav aria-label="Parents" class="min-w-0 font-mono text-[13px] leading-6">
          {#each found.path as step, i (i)}
            {#if i}<span class="text-soft" aria-hidden="true">{" › "}</span>{/if}
            {#if step.mark === null || i == found.path.length - 1}<span class={i == found.path.length - 1 ? "font-semibold" : "text-soft"}>{step.label}</span>
            {:else}<button type="button" class="rounded text-teal underline-offset-4 hover:underline" onclick={() => worktop.previews.choose(step.mark!)}>{step.label}</button>{/if}
          {/each}
        </nav>
        <button type="button" class="shrink-0 rounded px-2 text-sm text-soft underline-offset-4 hover:underline" onclick={() => worktop.previews.unchoose()}>All parts</button>
      </div>
    </div>
    <div class="px-5 py-4">
      {@render head("View")}
      {#if found.view}
        {#if found.made}<p class="mb-2 text-sm text-soft">{found.made}</p>{/if}
        <div class="mb-1 flex justify-between">{@render where("view")}</div>
        {@render piece("view")}
      {:else}
        <p class="text-sm text-soft">The view has changed since then. Select the part again.</p>
      {/if}

      {@render head("Style", found.rules.length)}
      {#each found.rules as r (found.kept.get(r)?.key)}
        <div class="mb-3">
          <div class="mb-1 flex items-baseline justify-between gap-3">
            {@render where(r)}
            {#if r.note}<span class="truncate font-mono text-[13px] text-soft" title={r.note}>{r.note}</span>{/if}
          </div>
          {@render piece(r)}
        </div>
      {:else}
        <p class="mb-2 text-sm text-soft">No style rule applies to it.</p>
      {/each}
      <div class="flex flex-wrap gap-x-5 gap-y-1 text-sm">
        <button type="button" class="rounded text-teal underline-offset-4 hover:underline" onclick={addRule}>Add a rule for <code>{found.selector}</code></button>
        {#if found.around.length}
          <button type="button" class="rounded text-teal underline-offset-4 hover:underline" aria-expanded={around} onclick={() => (around = !around)}>{around ? "Hide" : "Show"} inherited rules ({found.around.length})</button>
        {/if}
      </div>
      {#if around}
        {#each found.around as r (found.kept.get(r)?.key)}
          <div class="mt-3">
            <div class="mb-1 flex items-baseline justify-between gap-3">{@render where(r)}<span class="truncate font-mono text-[13px] text-soft">{r.note}</span></div>
            {@render piece(r)}
          </div>
        {/each}
      {/if}

      {@render head("Script", found.statements.length)}
      {#each found.statements as s (found.kept.get(s)?.key)}
        <div class="mb-3">
          <div class="mb-1">{@render where(s)}</div>
          {@render piece(s)}
        </div>
      {:else}
        <p class="text-sm text-soft">No line of the script has used this part.</p>
      {/each}

      {@render head("Settings", found.settings.length)}
      {#each found.settings as s (s.key)}
        <div class="mb-3">
          <div class="mb-1 flex items-baseline justify-between gap-3">
            <span><strong class="font-medium">{s.label}</strong> <span class="text-sm text-soft">{s.type}</span></span>
            {@render where(s)}
          </div>
          {@render piece(s)}
          <div class="mt-1 flex gap-4 text-sm">
            {#each ["rename", "duplicate", "delete"] as const as way (way)}
              <button type="button" class="rounded text-teal capitalize underline-offset-4 hover:underline" aria-label="{way} {s.label}" onclick={() => (changing = { way, key: s.key })}>{way}</button>
            {/each}
          </div>
        </div>
      {:else}
        <p class="text-sm text-soft">It does not use any settings, so it is the same for every customer.</p>
      {/each}

      {#if found.messages.length}
        {@render head("Messages", found.messages.length)}
        {#each found.messages as m (found.kept.get(m)?.key)}
          <div class="mb-3">
            <div class="mb-1">{@render where(m)}</div>
            {@render piece(m)}
          </div>
        {/each}
      {/if}

      {@render head("Rendered HTML")}
      <dl class="grid grid-cols-[auto_minmax(0,1fr)] gap-x-4 gap-y-0.5 text-sm">
        {#each Object.entries(found.properties) as [name, value] (name)}
          <dt class="font-mono text-[13px] text-soft">{name}</dt>
          <dd class="truncate font-mono text-[13px]" title={value}>
            {#if /^rgba?\(/.test(value)}<span class="me-1.5 inline-block size-3 rounded-sm border border-edge align-[-1px]" style:background={value}></span>{/if}{value}
          </dd>
        {/each}
      </dl>
    </div>
  {/if}
</div>

{#if changing}
  {#key changing}<ChangeSetting {worktop} way={changing.way} key={changing.key} {onopen} onclose={() => (changing = null)} />{/key}
{/if}
