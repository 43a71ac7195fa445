<script lang="ts">
  // The widgets, and those on the worktop.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Widget, WidgetDraft } from "../api/types";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { ago } from "../ui/time";
  import { duplicateWidget } from "./duplicate";
  import MakePockets from "./MakePockets.svelte";
  import ReleasesBox from "./ReleasesBox.svelte";

  let widgets = $state.raw<Widget[]>([]);
  let drafts = $state.raw<WidgetDraft[]>([]);
  let releaseless = $state.raw<string[]>([]);
  let loading = $state(true);
  let error = $state<Error | null>(null);
  let trouble = $state("");
  let releasesOf = $state<{ name: string; title: string } | null>(null);

  async function load() {
    error = null;
    try {
      const [w, d] = await Promise.all([api.widgets(), api.widgetDrafts()]);
      widgets = w.widgets;
      drafts = d.drafts;
      releaseless = w.releaseless ?? [];
    } catch (failed) {
      session.expire(failed);
      error = failed as Error;
    }
    loading = false;
  }
  load();

  const rows = $derived.by(() => {
    const names = [...new Set([...widgets.map((w) => w.name), ...drafts.map((d) => d.widget), ...releaseless])].sort();
    return names.map((name) => ({ name, widget: widgets.find((w) => w.name == name), draft: drafts.find((d) => d.widget == name) }));
  });

  let busy = $state("");
  let made = $state("");
  async function duplicate(name: string, title: string) {
    busy = name;
    trouble = made = "";
    try {
      made = await duplicateWidget(name, title);
      await load();
    } catch (failed) {
      session.expire(failed);
      trouble = explain(failed);
    }
    busy = "";
  }

  async function open(name: string) {
    trouble = "";
    try {
      await api.startWidgetDraft(name, {});
      router.go(`/worktop/${name}`);
    } catch (failed) {
      session.expire(failed);
      trouble = explain(failed);
    }
  }
</script>

<svelte:head><title>Worktop · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-5xl px-5 py-10">
  <div class="flex flex-wrap items-center justify-between gap-3">
    <h1 class="text-2xl font-semibold tracking-tight">Worktop</h1>
    <Button onclick={() => router.go("/new-widget")}>New widget</Button>
  </div>
  <p class="mt-1 max-w-2xl text-balance text-soft">Build and change widgets here. Changes stay in a draft until you release them.</p>
  {#if trouble}<p role="alert" class="mt-4 text-bad">{trouble}</p>{/if}
  <div role="status">{#if made}<p class="mt-4 flex items-center gap-4 rounded-xl bg-wash px-5 py-2.5"><span class="flex-1">Duplicated as {made}.</span><a href="/worktop/{made}" onclick={router.follow} class="rounded underline underline-offset-4">Open</a><button type="button" class="rounded underline underline-offset-4" onclick={() => (made = "")}>Close</button></p>{/if}</div>
  {#if error}
    <Trouble {error} retry={load} />
  {:else if !loading}
    {#if rows.length == 0}
      <p class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12 text-soft">There are no widgets yet. Start a blank one, or start from an HTML page.</p>
    {/if}
    <ul class="mt-6 divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
      {#each rows as row (row.name)}
        <li class="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-3">
          <div class="min-w-0 flex-1 basis-60">
            <p class="font-medium">
              {#if row.draft}<a href="/worktop/{row.name}" onclick={router.follow} class="underline-offset-4 hover:underline">{row.widget?.title.en ?? row.name}</a>{:else}{row.widget?.title.en ?? row.name}{/if}
              <span class="ms-1 font-mono text-[13px] font-normal text-soft">{row.name}</span>
            </p>
            <p class="truncate text-sm text-soft">{row.widget?.summary?.en ?? (row.widget ? "" : releaseless.includes(row.name) ? "Every release has been withdrawn." : "Not released yet")}</p>
          </div>
          <p class="text-sm text-soft">
            {row.widget ? `Release ${row.widget.release.number}` : releaseless.includes(row.name) ? "No release in use" : "No release"}
            {#if row.draft}<br />Draft changed {ago(row.draft.changedAt)} by {row.draft.changedBy}{/if}
          </p>
          {#if row.widget}<MakePockets widget={row.name} plain />{/if}
          {#if row.widget || row.draft}<Button kind="plain" disabled={busy == row.name} aria-label="Duplicate {row.widget?.title.en ?? row.name}" onclick={() => duplicate(row.name, row.widget?.title.en ?? row.name)}>Duplicate</Button>{/if}
          {#if row.widget || releaseless.includes(row.name)}<Button kind="plain" onclick={() => (releasesOf = { name: row.name, title: row.widget?.title.en ?? row.name })}>Releases…</Button>{/if}
          {#if row.draft}<Button kind="plain" onclick={() => router.go(`/worktop/${row.name}`)}>Continue</Button>{:else if row.widget}<Button kind="plain" onclick={() => open(row.name)}>Edit</Button>{/if}
        </li>
      {/each}
    </ul>
  {/if}
</main>
{#if releasesOf}
  <ReleasesBox
    {...releasesOf}
    onclose={() => {
      releasesOf = null;
      void load();
    }}
  />
{/if}
