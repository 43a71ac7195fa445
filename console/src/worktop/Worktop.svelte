<script lang="ts">
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import Bench from "./Bench.svelte";
  import Collisions from "./Collisions.svelte";
  import Files from "./Files.svelte";
  import MakeSetting from "./MakeSetting.svelte";
  import Messages from "./Messages.svelte";
  import OriginBox from "./OriginBox.svelte";
  import PartColumn from "./PartColumn.svelte";
  import ReleaseBox from "./ReleaseBox.svelte";
  import type { At } from "./script";
  import { explain } from "../api/refused";
  import { duplicateWidget } from "./duplicate";
  import MakePockets from "./MakePockets.svelte";
  import { Releasing } from "./release.svelte";
  import { Worktop } from "./worktop.svelte";

  let { name, publicBase }: { name: string; publicBase: string } = $props();
  // svelte-ignore state_referenced_locally: the page creates a worktop for each widget
  const worktop = new Worktop(name, publicBase);
  worktop.load();
  $effect(() => () => worktop.close());

  let box = $state<"" | "release" | "origin">("");
  let r = $state.raw<Releasing | null>(null);
  let releasing = $state(false);
  let copying = $state(false);

  // Releases at once if the dry run changes nothing. If it does, or with options, shows it first.
  async function release(options = false) {
    if (releasing) return;
    releasing = true;
    worktop.justReleased = 0;
    const mine = (r = new Releasing(worktop));
    if (options) box = "release";
    await mine.open();
    if (!options && mine.plain) await mine.release();
    if (!options && !mine.done) box = "release";
    releasing = false;
  }

  async function duplicate() {
    copying = true;
    try {
      await worktop.saving.save();
      const made = await duplicateWidget(name, worktop.widget?.title.en ?? name);
      worktop.notice = `Duplicated as ${made}.`;
      copyName = made;
    } catch (error) {
      session.expire(error);
      worktop.notice = explain(error);
    }
    copying = false;
  }
  let copyName = $state("");
  let files = $state(false); // whole files instead of the selected part
  let file = $state("view.html");
  let at = $state<{ line: number; column: number; turn: number } | null>(null);
  let turn = 0;

  const saved: Record<string, string> = { saved: session.who?.folder ? "Folder saved" : "Draft saved", waiting: "Saving…", saving: "Saving…", failed: "Not saved" };
  const wrong = $derived(worktop.faults.filter((f) => !f.warning).length);

  function open(place: At) {
    files = true;
    file = place.path;
    at = { line: place.line, column: place.column, turn: ++turn };
  }

  function key(event: { key: string; ctrlKey?: boolean; metaKey?: boolean; shiftKey?: boolean; target?: EventTarget | null; defaultPrevented?: boolean; preventDefault?: () => void }) {
    // In a dialog, Escape and undo belong to the dialog, which may be closed when this runs.
    if (event.defaultPrevented || document.querySelector("[role=dialog]")) return;
    const mod = event.ctrlKey || event.metaKey;
    const typing = event.target instanceof HTMLElement && (event.target.isContentEditable || /^(INPUT|TEXTAREA|SELECT)$/.test(event.target.tagName));
    if (event.key == "F9") files = !files;
    else if (event.key == "F8") worktop.previews.point(!worktop.previews.pointing);
    else if (event.key == "Escape" && !typing && worktop.previews.part) worktop.previews.unchoose();
    else if (mod && event.key == "s") void worktop.saving.save();
    else if (mod && event.key.toLowerCase() == "z" && !typing) event.shiftKey ? worktop.redo() : worktop.undo();
    else return;
    event.preventDefault?.();
  }
  worktop.previews.onkey = (pressed) => key({ key: pressed });

  // The changes are in the journal already; this only saves them sooner.
  function leaving() {
    void worktop.saving.save();
  }
</script>

<svelte:head><title>{name} · Worktop · Glass Pocket</title></svelte:head>
<svelte:window onkeydown={key} onpagehide={leaving} />

{#if worktop.error}
  <Header />
  <Trouble error={worktop.error} retry={() => worktop.load()} />
{:else}
  <div class="flex min-h-full flex-col lg:h-full">
    <Header>
      <div class="min-w-0">
        <h1 class="truncate leading-tight font-semibold">{worktop.widget?.title.en ?? name}</h1>
        <p class="truncate text-[13px] text-soft">
          {#if session.who?.folder}<span class="font-mono" title={session.who.folder}>{session.who.folder}</span>
          {:else}<a href="/worktop" onclick={router.follow} class="underline-offset-4 hover:underline">Worktop</a> · <span class="font-mono">{name}</span>{/if}
        </p>
      </div>
      {#snippet actions()}
        <span class="hidden text-sm text-soft sm:inline" role="status">{saved[worktop.saving.state]}</span>
        <div class="flex gap-1">
          <button type="button" class="tool" disabled={worktop.folder.past.length == 0} onclick={() => worktop.undo()} title="Undo the last change (Ctrl+Z)">Undo</button>
          <button type="button" class="tool" disabled={worktop.folder.future.length == 0} onclick={() => worktop.redo()} title="Redo (Ctrl+Shift+Z)">Redo</button>
        </div>
        <Button kind="plain" aria-pressed={files} onclick={() => (files = !files)}>{files ? "Parts" : "Files"} <kbd class="hidden rounded border border-line px-1 text-xs text-soft sm:inline">F9</kbd></Button>
        {#if !session.who?.folder}
          <button type="button" class="tool text-sm max-md:hidden" disabled={copying || !worktop.saving.draft} onclick={duplicate}>Duplicate</button>
          <button type="button" class="tool text-sm max-md:hidden" disabled={releasing || !worktop.saving.draft} onclick={() => release(true)}>Release…</button>
          <Button onclick={() => release()} disabled={releasing || !worktop.saving.draft}>{releasing && !box ? "Releasing…" : "Release"}</Button>
        {/if}
      {/snippet}
    </Header>
    {#if worktop.gone}<p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">The worktop of the folder does not answer. Check that “glasspocket watch” is running. Your changes are kept on this page.</p>{/if}
    {#each new Set([worktop.saving.trouble, worktop.previews.trouble, worktop.trouble].filter(Boolean)) as trouble (trouble)}<p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">{trouble}</p>{/each}
    {#if worktop.origin}
      <p class="flex flex-wrap items-center justify-between gap-x-4 gap-y-1 border-b border-line bg-wash px-5 py-2">
        <span><strong class="font-medium">{worktop.origin.widget}</strong>, the original of this copy, has changed.</span>
        <button type="button" class="rounded text-sm text-teal underline underline-offset-4" onclick={() => (box = "origin")}>Show changes</button>
      </p>
    {/if}
    <div role="status">
      {#if worktop.notice}
        <p class="flex flex-wrap items-center justify-between gap-x-4 gap-y-2 border-b border-line bg-wash px-5 py-2">
          <span class="min-w-0 flex-1">{worktop.notice}</span>
          {#if copyName && worktop.notice.includes(copyName)}<a href="/worktop/{copyName}" onclick={router.follow} class="rounded text-sm underline underline-offset-4">Open</a>{/if}
          {#if worktop.justReleased}<MakePockets widget={name} /><button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => release(true)}>Releases</button>{/if}
          <button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => ((worktop.notice = ""), (worktop.justReleased = 0))}>Close</button>
        </p>
      {/if}
    </div>
    {#if worktop.saving.collisions.length}<Collisions {worktop} />{/if}
    <main class={["grid min-h-0 flex-1 grid-cols-1", files ? "lg:grid-cols-[minmax(0,1fr)_minmax(0,1fr)]" : "lg:grid-cols-[minmax(0,1fr)_440px]"]}>
      <div class="flex min-h-0 min-w-0 flex-col">
        <Bench {worktop} />
        <Messages {worktop} {wrong} onopen={open} />
      </div>
      <div class="min-h-0 min-w-0 border-line bg-sheet max-lg:border-t lg:border-s">
        {#if files}<Files {worktop} bind:file {at} />{:else}<PartColumn {worktop} onopen={open} />{/if}
      </div>
    </main>
  </div>
  {#if box == "release" && r}<ReleaseBox {worktop} {r} onclose={() => (box = "")} />{/if}
  {#if box == "origin" && worktop.origin}<OriginBox {worktop} onclose={() => (box = "")} />{/if}
  {#if worktop.found}
    {#key worktop.found}<MakeSetting {worktop} found={worktop.found} onclose={() => (worktop.found = null)} />{/key}
  {/if}
{/if}
