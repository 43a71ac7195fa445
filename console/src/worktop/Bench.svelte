<script lang="ts">
  // The previews: a single large one, or all cases side by side.
  import Button from "../ui/Button.svelte";
  import { languageNames } from "./cases";
  import FrameBox from "./FrameBox.svelte";
  import type { Worktop } from "./worktop.svelte";

  let { worktop }: { worktop: Worktop } = $props();
  const chip = "min-h-7 rounded-full border px-2.5 text-[13px] whitespace-nowrap";
  const select = "min-h-7 max-w-40 rounded-md border border-edge bg-sheet px-1.5 text-[13px] text-ink";
</script>

<div class="border-b border-line px-4 py-2">
  <div class="-mx-4 flex gap-1 overflow-x-auto px-4 py-0.5 sm:flex-wrap" role="group" aria-label="Preview cases">
    {#each worktop.previews.cases as c (c.id)}
      {@const on = !worktop.previews.beside && worktop.previews.current == c.id}
      <button type="button" title={c.about} aria-pressed={on} class={[chip, on ? "border-teal bg-teal text-on-teal" : "border-line bg-sheet text-ink hover:border-edge"]} onclick={() => worktop.previews.show(c.id)}>{c.label}</button>
    {/each}
  </div>
  <div class="mt-2 flex flex-wrap items-center gap-x-4 gap-y-2 text-[13px] text-soft">
    {#if worktop.widget?.starters.length}
      <label class="flex items-center gap-1.5">
        Starter
        <select class={select} value={worktop.previews.starter} onchange={(e) => worktop.previews.start(e.currentTarget.value)}>
          <option value="">None</option>
          {#each worktop.widget.starters as s (s.name)}<option value={s.name}>{s.title.en ?? Object.values(s.title)[0]}</option>{/each}
        </select>
      </label>
    {/if}
    {#if (worktop.widget?.languages.length ?? 0) > 1}
      <label class="flex items-center gap-1.5">
        Language
        <select class={select} value={worktop.previews.language || worktop.widget!.languages[0]} onchange={(e) => worktop.previews.speak(e.currentTarget.value)}>
          {#each worktop.widget!.languages as l (l)}<option value={l}>{languageNames.of(l) ?? l}</option>{/each}
        </select>
      </label>
    {/if}
    <button
      type="button"
      title="Show all cases"
      aria-pressed={worktop.previews.beside}
      class={[chip, "font-medium", worktop.previews.beside ? "border-teal bg-teal text-on-teal" : "border-edge bg-sheet text-ink hover:bg-sunk"]}
      onclick={() => worktop.previews.besides(!worktop.previews.beside)}>Side by side</button
    >
    <span class="ms-auto truncate font-mono" aria-hidden="true">{worktop.previews.over}</span>
    <label class="flex items-center gap-1.5 text-ink" title="Select parts with a click in the preview (F8)">
      <input type="checkbox" class="size-4 accent-teal" checked={worktop.previews.pointing} onchange={(e) => worktop.previews.point(e.currentTarget.checked)} />
      Select <kbd class="hidden rounded border border-line px-1 text-xs text-soft sm:inline">F8</kbd>
    </label>
  </div>
</div>

<div class="relative min-h-80 flex-1 overflow-auto bg-sunk">
  {#if worktop.previews.beside}
    <ul class="grid grid-cols-[repeat(auto-fill,minmax(min(360px,100%),1fr))] gap-4 p-4">
      {#each worktop.previews.cases as c (c.id)}
        <li class="min-w-0">
          <button type="button" class="mb-1 text-sm font-medium underline-offset-4 hover:underline" onclick={() => worktop.previews.show(c.id)}>{c.label}</button>
          <div class="h-72 overflow-hidden rounded-lg border border-line"><FrameBox {worktop} which={c} scaled /></div>
        </li>
      {/each}
    </ul>
  {:else}
    {@const c = worktop.previews.shownCases[0]}
    <div class="absolute inset-0 flex justify-center overflow-auto">
      {#key c.id}<FrameBox {worktop} which={c} />{/key}
    </div>
  {/if}
  {#if worktop.previews.stuck}
    <div class="absolute inset-x-0 bottom-0 flex flex-wrap items-center justify-between gap-3 border-t border-line bg-sheet px-5 py-3" role="alert">
      <p><strong>The preview was stopped.</strong> Its script ran for four seconds without a break. The preview continues after your next change.</p>
      <Button kind="plain" onclick={() => worktop.previews.revive()}>Run again</Button>
    </div>
  {:else if !worktop.previews.showing && worktop.saving.draft}
    <div class="absolute inset-0 grid place-items-center bg-sunk p-6 text-center">
      {#if worktop.previews.tried.length}
        <div class="max-w-md">
          <p class="text-lg font-semibold">There is nothing to show yet.</p>
          <p class="mt-1 text-soft">Correct the faults below. The preview then appears automatically.</p>
        </div>
      {:else}<p class="text-soft">Drawing…</p>{/if}
    </div>
  {/if}
</div>
