<script lang="ts">
  // From draft to release: the changes, before and after, and the effect on each pocket.
  import ReleaseList from "./ReleaseList.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import { ago } from "../ui/time";
  import Differences from "./Differences.svelte";
  import Drawing from "./Drawing.svelte";
  import type { Releasing } from "./release.svelte";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, r, onclose }: { worktop: Worktop; r: Releasing; onclose: () => void } = $props();
  // svelte-ignore state_referenced_locally: one release per dialog
  $effect(() => () => r.close());

  const since = $derived(r.differences?.since ?? 0);
  const nothing = $derived(r.unchanged);
  const ready = $derived(!!r.run?.finished && worktop.sound && !nothing && (r.run.broken == 0 || r.breaks));
  const percent = $derived(r.run ? (r.run.of ? Math.round((r.run.done / r.run.of) * 100) : 100) : 0);
  const shares = [
    { value: 100, label: "All pockets that follow" },
    { value: 50, label: "Half of them first" },
    { value: 10, label: "One in ten first" },
    { value: 1, label: "One in a hundred first" },
  ];
</script>

<Box title={r.done ? `Made release ${r.done.number}` : `Release ${worktop.widget?.title.en ?? worktop.name}`} about={r.done ? "" : "Releases are permanent. Later changes need a new release. Pockets that follow get it immediately."} wide {onclose} onsubmit={() => r.release()}>
  {#if r.trouble}<p role="alert" class="mb-4 text-bad">{r.trouble}</p>{/if}
  {#if r.done}
    <p>
      {#if r.done.share < 100}It is rolled out to {r.done.share} of a hundred pockets that follow. Roll it out further below, or withdraw it.{:else}Pockets that follow have it from their next visitor on; others when they are next published.{/if}
    </p>
  {:else if !worktop.sound}
    <p class="text-bad">The draft has faults. Correct them under “Faults”, then release it.</p>
  {:else if nothing}
    <p class="text-soft">Nothing has changed since release {since}.</p>
  {:else}
    <section>
      <h3 class="font-semibold">{since ? `Changes since release ${since}` : "The first release"}</h3>
      {#if !r.differences}<p class="text-soft">Comparing…</p>{:else if since}<Differences changes={r.differences} />{:else}<p class="text-sm text-soft">{r.differences.files.length == 1 ? "1 file." : `${r.differences.files.length} files.`}</p>{/if}
    </section>

    {#if r.after}
      <section class="mt-6">
        <div class="mb-2 flex flex-wrap items-center justify-between gap-3">
          <h3 class="font-semibold">{r.before ? "Before and after" : "Preview"}</h3>
          {#if worktop.widget?.starters.length}
            <label class="flex items-center gap-2 text-sm text-soft"
              >Starter
              <select class="rounded-md border border-edge bg-sheet px-2 py-1 text-ink" value={r.starter} onchange={(e) => r.look(e.currentTarget.value)}>
                <option value="">None</option>
                {#each worktop.widget.starters as s (s.name)}<option value={s.name}>{s.title.en ?? s.name}</option>{/each}
              </select></label
            >
          {/if}
        </div>
        <div class={["grid gap-3", r.before && "sm:grid-cols-2"]}>
          {#if r.before}<Drawing publicBase={worktop.publicBase} label="Release {since}" {...r.before} />{/if}
          <Drawing publicBase={worktop.publicBase} label="Draft" {...r.after} />
        </div>
      </section>
    {/if}

    {#if r.run && (r.run.of || since)}
      <section class="mt-6" aria-busy={!r.run.finished}>
        <h3 class="font-semibold">Dry run</h3>
        <p class="text-sm text-soft">First, every pocket that follows is rendered with the draft. This changes nothing.</p>
        {#if !r.run.finished}
          <div class="mt-2 flex items-center gap-3">
            <progress class="h-2 flex-1 accent-teal" max="100" value={percent} aria-label="Dry run"></progress>
            <span class="text-sm tabular-nums">{r.run.done} of {r.run.of}</span>
            {#if !r.run.cancelled}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => r.stop()}>Cancel</button>{:else}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => r.rehearse()}>Run again</button>{/if}
          </div>
        {:else if r.run.of == 0}
          <p class="mt-1 text-sm">No pockets follow this widget.</p>
        {:else}
          <p class="mt-2 flex flex-wrap gap-x-5 gap-y-1">
            <span><strong class="tabular-nums">{r.run.identical}</strong> identical</span><span><strong class="tabular-nums">{r.run.changed}</strong> changed</span><span class={r.run.broken ? "text-bad" : ""}><strong class="tabular-nums">{r.run.broken}</strong> broken</span>
          </p>
          {#if r.pockets.length}
            <ul class="mt-2 divide-y divide-line overflow-hidden rounded-lg border border-line bg-sheet text-sm">
              {#each r.pockets as p (p.key)}
                <li class="px-3 py-2">
                  <div class="flex flex-wrap items-baseline gap-x-3 gap-y-1">
                    <span class="font-medium">{p.title}</span>
                    <span class="font-mono text-[13px] text-soft">{p.key}</span>
                    <span class={p.verdict == "broken" ? "text-bad" : "text-soft"}>{p.verdict}: {p.verdict == "broken" ? p.why : (p.what ?? []).join(", ")}</span>
                    <button type="button" class="ms-auto rounded text-teal underline-offset-4 hover:underline" aria-expanded={r.looking?.key == p.key} onclick={() => r.compare(p.key)}>{r.looking?.key == p.key ? "Close" : "Look"}</button>
                  </div>
                  {#if r.looking?.key == p.key}
                    <div class="mt-2 grid gap-3 sm:grid-cols-2">
                      {#if r.looking.both.before}<Drawing publicBase={worktop.publicBase} label="Before" payload={r.looking.both.before.payload} script={r.looking.both.before.script} />{:else}<p class="text-soft">It is not published.</p>{/if}
                      {#if r.looking.both.after}<Drawing publicBase={worktop.publicBase} label="With this release" payload={r.looking.both.after.payload} script={r.looking.both.after.script} />{:else}<p class="text-bad">It cannot use this release, so it would keep its present one.</p>{/if}
                    </div>
                  {/if}
                </li>
              {/each}
            </ul>
            {#if r.next}<button type="button" class="mt-2 rounded text-sm text-teal underline underline-offset-4" onclick={() => r.more()}>More</button>{/if}
          {/if}
        {/if}
      </section>
    {/if}

    <section class="mt-6 grid gap-4 sm:grid-cols-[minmax(0,1fr)_240px]">
      <label class="block">
        <span class="mb-1 block font-medium">Note</span>
        <input class="field" bind:value={r.note} maxlength="2000" placeholder="New in this release" />
      </label>
      {#if since}
        <label class="block">
          <span class="mb-1 block font-medium">Roll out to</span>
          <select class="field" bind:value={r.share}>{#each shares as s (s.value)}<option value={s.value}>{s.label}</option>{/each}</select>
        </label>
      {/if}
    </section>
    {#if r.run?.finished && r.run.broken > 0}
      <label class="mt-4 flex items-baseline gap-2 text-bad"
        ><input type="checkbox" class="size-4 translate-y-0.5 accent-teal" bind:checked={r.breaks} />Release it anyway. {r.run.broken}
        {r.run.broken == 1 ? "pocket keeps its" : "pockets keep their"} present release.</label
      >
    {/if}
  {/if}

  {#if r.releases.length}
    <details class="mt-6" open={!!r.done}>
      <summary class="cursor-pointer font-semibold">Releases <span class="text-sm font-normal text-soft tabular-nums">{r.releases.length}</span></summary>
      <ReleaseList name={r.name} releases={r.releases} onchange={() => r.again()} />
    </details>
  {/if}
  {#snippet actions()}
    <Button kind="plain" onclick={onclose}>{r.done ? "Close" : "Cancel"}</Button>
    {#if !r.done}<Button type="submit" disabled={!ready || r.busy}>{r.busy ? "Releasing…" : "Release"}</Button>{/if}
  {/snippet}
</Box>
