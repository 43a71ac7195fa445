<script lang="ts">
  import type { Pocket } from "../api/types";
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { ago, exactly } from "../ui/time";
  import { lasting } from "../sources/words";
  import Starters from "../gallery/Starters.svelte";
  import JobLine from "./JobLine.svelte";
  import State from "./State.svelte";
  import { Rows } from "./rows.svelte";
  import { orders, PocketsInReach, states } from "./pockets.svelte";

  const reach = new PocketsInReach();
  const rows = new Rows(
    () => reach.load(),
    (widget) => !!reach.widgets.find((w) => w.name == widget)?.floats,
  );
  // Pockets that were just made from the worktop are selected.
  const made = new URLSearchParams(location.search).get("made")?.split(",") ?? [];
  if (made.length) reach.picked = Object.fromEntries(made.map((key) => [key, true]));
  reach.start();
  reach.load();
  $effect(() => () => reach.jobs.close());
  let asking = $state<"" | "duplicate" | "delete" | "import" | "unpublish" | "publish" | "move">("");
  let customer = $state(session.who?.customer ?? "");
  let file = $state<File | undefined>();
  const some = $derived(reach.all ? "all of this list" : reach.count == 1 ? "1 pocket" : `${reach.count} pockets`);

  function opens(event: MouseEvent, key: string) {
    if ((event.target as HTMLElement).closest("a, input, [data-pick]") || getSelection()?.type == "Range") return;
    router.go(`/pockets/${key}`);
  }
  function ask(what: typeof asking) {
    asking = what;
    customer ||= reach.list.customer;
  }
  function confirm() {
    const what = asking;
    asking = "";
    if (what == "import") {
      if (file) void reach.import(file, customer);
    } else if (what) void reach.do(what == "duplicate" ? { does: "duplicate", customer } : { does: what });
  }
  const titles = { duplicate: "Duplicate", delete: "Delete", import: "Import pockets", unpublish: "Unpublish", publish: "Publish", move: "Move" };
  // Of the selected pockets that are shown: those that publishing changes.
  const picked = $derived(reach.pockets.filter((p) => reach.picked[p.key]));
  const differ = $derived(picked.filter((p) => p.state == "changed"));
  const fresh = $derived(picked.filter((p) => p.state == "unpublished"));
  const named = (list: typeof picked) => list.slice(0, 5).map((p) => p.title).join(", ") + (list.length > 5 ? ` and ${list.length - 5} more` : "");
</script>

<svelte:head><title>Pockets · Glass Pocket</title></svelte:head>

<!-- At the end of the row; below its title on a phone. -->
{#snippet actions(pocket: Pocket)}
  {#if pocket.publication}<button type="button" class="tool px-2 text-sm" disabled={!!rows.busy} aria-label="Copy link to steps: {pocket.title}" title="Copy a link to the installation steps" onclick={() => rows.steps(pocket)}>Steps</button>{/if}
  <button type="button" class="tool px-2 text-sm" disabled={!!rows.busy} aria-label="Duplicate: {pocket.title}" title="Duplicate" onclick={() => rows.duplicate(pocket)}>⧉</button>
{/snippet}

<Header />
<div class={["mx-auto grid grid-cols-1 gap-x-8 px-5", session.edits ? "max-w-[92rem] lg:grid-cols-[minmax(0,1fr)_340px]" : "max-w-6xl"]}>
<main class="min-w-0 py-8">
  <div class="flex flex-wrap items-end justify-between gap-4">
    <div>
      <h1 class="text-2xl font-semibold tracking-tight">Pockets</h1>
      <p class="mt-1 text-soft">A pocket is a widget with {session.operator ? "a customer's" : "your"} own settings. Open one to change it.</p>
    </div>
    {#if session.edits}
      <div class="flex gap-2">
        <Button kind="plain" onclick={() => ask("import")}>Import…</Button>
        <Button class="lg:hidden" onclick={() => router.go("/gallery")}>New pocket</Button>
      </div>
    {/if}
  </div>
  {#if reach.jobs.list.length}
    <div class="mt-5 space-y-2.5">{#each reach.jobs.list as job (job.id)}<JobLine {job} jobs={reach.jobs} />{/each}</div>
  {/if}
  {#await import("../sources/Failing.svelte") then { default: Failing }}<Failing />{/await}
  <div role="status">
    {#if rows.notice}
      <p class="mt-4 flex flex-wrap items-center gap-x-4 gap-y-1 rounded-xl bg-wash px-5 py-2.5">
        <span class="min-w-0 flex-1 wrap-anywhere">{rows.notice.text}</span>
        {#if rows.notice.key}<a class="rounded underline underline-offset-4" href={`/pockets/${rows.notice.key}`} onclick={router.follow}>Open</a>{/if}
        {#if rows.notice.undo}<button type="button" class="rounded underline underline-offset-4" onclick={rows.notice.undo}>Undo</button>{/if}
        <button type="button" class="rounded underline underline-offset-4" onclick={() => (rows.notice = null)}>Close</button>
      </p>
    {/if}
  </div>
  {#if rows.trouble}<p role="alert" class="mt-4 text-bad">{rows.trouble}</p>{/if}
  {#if reach.trouble}<p role="alert" class="mt-4 text-bad">{reach.trouble}</p>{/if}
  {#if reach.error}
    <Trouble error={reach.error} retry={() => reach.load()} />
  {:else if !reach.loading && reach.pockets.length == 0 && !reach.narrowed}
    <div class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12">
      <p class="text-lg font-semibold">There are no pockets yet.</p>
      <p class="mt-1 max-w-xl text-soft">To make one, click a starter<span class="max-lg:hidden"> on the right</span><span class="lg:hidden"> below</span>.</p>
    </div>
  {:else}
    <div class="mt-6 mb-3 flex flex-wrap items-center gap-2" role="search">
      <input type="search" class="field w-full sm:w-56" placeholder="Search title or key" aria-label="Search title or key" value={reach.list.search} oninput={(e) => reach.narrow({ search: e.currentTarget.value }, 150)} autocomplete="off" />
      {#if session.operator}
        <CustomerChoice id="of-customer" label="Customer" any="Every customer" size="w-auto max-w-48" value={reach.list.customer} onchange={(customer) => reach.narrow({ customer })} />
      {/if}
      <select class="field w-auto max-w-44" aria-label="Widget" value={reach.list.widget} onchange={(e) => reach.narrow({ widget: e.currentTarget.value })}>
        <option value="">Every widget</option>
        {#each reach.widgets as w (w.name)}<option value={w.name}>{w.title}</option>{/each}
      </select>
      <select class="field w-auto" aria-label="State" value={reach.list.state} onchange={(e) => reach.narrow({ state: e.currentTarget.value })}>
        {#each states as [value, label] (value)}<option {value}>{label}</option>{/each}
      </select>
      <label class="flex items-center gap-2 px-1 text-sm" title="Keeps an older release than the newest"><input type="checkbox" class="size-4 accent-teal" checked={reach.list.behind} onchange={(e) => reach.narrow({ behind: e.currentTarget.checked })} />Older release</label>
      <select class="field ms-auto w-auto" aria-label="Order" value={reach.order} onchange={(e) => ((reach.order = e.currentTarget.value), reach.load())}>
        {#each orders as [value, label] (value)}<option {value}>{label}</option>{/each}
      </select>
    </div>
    {#if reach.count && session.edits}
      <div class="sticky top-0 z-20 mb-3 flex flex-wrap items-center gap-x-4 gap-y-2 rounded-xl bg-wash px-5 py-2.5" role="group" aria-label="Actions for the selected pockets">
        <p class="font-medium">{reach.all ? "All in this list selected" : `${reach.count} selected`}</p>
        {#if reach.next && !reach.all && reach.count == reach.pockets.length}<button type="button" class="rounded text-sm underline underline-offset-4" onclick={() => (reach.all = true)}>Select all in this list, including those not shown</button>{/if}
        <div class="ms-auto flex flex-wrap gap-1">
          {#if !reach.all && new Set(picked.map((p) => p.customer)).size == 1}<button type="button" class="tool text-ink" onclick={() => rows.askPublish(picked)}>Publish for…</button>{/if}
          <button type="button" class="tool text-ink" onclick={() => ask("publish")}>Publish…</button>
          <button type="button" class="tool text-ink" onclick={() => ask("move")}>Use newest release…</button>
          <button type="button" class="tool text-ink" onclick={() => ask("duplicate")}>Duplicate…</button>
          {#if !reach.all}<button type="button" class="tool text-ink" onclick={() => reach.export()}>Export</button>{/if}
          <button type="button" class="tool text-ink" onclick={() => ask("unpublish")}>Unpublish…</button>
          <button type="button" class="tool text-ink" onclick={() => ask("delete")}>Delete…</button>
          <button type="button" class="tool" onclick={() => reach.pick(false)}>Clear selection</button>
        </div>
      </div>
    {/if}
    {#if reach.pockets.length == 0 && !reach.loading}
      <div class="rounded-xl border border-line bg-sheet px-8 py-12 text-center">
        <p class="font-medium">No pockets match these filters.</p>
        <button type="button" class="mt-2 rounded underline underline-offset-4" onclick={() => reach.widen()}>Show all</button>
      </div>
    {:else}
      <div class="relative overflow-x-auto rounded-xl border border-line bg-sheet">
        <table class="w-full text-start">
          <thead class="text-sm text-soft">
            <tr class="border-b border-line">
              {#if session.edits}<th scope="col" class="w-0 py-3 ps-5"><input type="checkbox" class="block size-4 accent-teal" aria-label="Select all that are shown" checked={reach.count > 0 && reach.count == reach.pockets.length} indeterminate={reach.count > 0 && reach.count < reach.pockets.length} onchange={(e) => reach.pick(e.currentTarget.checked)} /></th>{/if}
              <th scope="col" class="px-5 py-3 text-start font-medium">Pocket</th>
              {#if session.operator}<th scope="col" class="px-5 py-3 text-start font-medium max-md:hidden">Customer</th>{/if}
              <th scope="col" class="px-5 py-3 text-start font-medium max-md:hidden">Widget</th>
              <th scope="col" class="px-5 py-3 text-start font-medium">State</th>
              <th scope="col" class="px-5 py-3 text-start font-medium max-md:hidden lg:max-2xl:hidden">Changed</th>
              {#if session.edits}<th scope="col" class="w-0 py-3 pe-3 max-sm:hidden"><span class="sr-only">Actions</span></th>{/if}
            </tr>
          </thead>
          <tbody>
            {#each reach.pockets as pocket (pocket.key)}
              <!-- A click anywhere in the row opens the pocket; keyboard users have the link. A
                   link cannot cover a row, because in WebKit a row does not position its content. -->
              <!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
              <tr onclick={(e) => opens(e, pocket.key)} class={["cursor-pointer border-b border-line last:border-0 hover:bg-paper", reach.picked[pocket.key] && "bg-wash hover:bg-wash"]}>
                {#if session.edits}<td data-pick class="w-0 py-3.5 ps-5"><input type="checkbox" class="block size-4 accent-teal" aria-label="Select {pocket.title}" bind:checked={reach.picked[pocket.key]} onchange={() => (reach.all = false)} /></td>{/if}
                <td class="px-5 py-3.5">
                  <a href={`/pockets/${pocket.key}`} onclick={router.follow} class="inline-block font-medium text-ink hover:underline">{pocket.title}</a>
                  <div class="font-mono text-[13px] text-soft">{pocket.key}</div>
                  {#each pocket.failing ?? [] as s (s.id)}<div class="mt-0.5 text-sm text-warn" title={s.why}>{s.name} {s.ended ? "is not fetched any more" : `not reached ${lasting(s.since)}`}</div>{/each}
                  {#if session.edits}<div data-pick class="-ms-2 mt-1 sm:hidden">{@render actions(pocket)}</div>{/if}
                </td>
                {#if session.operator}<td class="px-5 py-3.5 max-md:hidden">{reach.name(pocket.customer)}</td>{/if}
                <td class="px-5 py-3.5 max-md:hidden">{reach.title(pocket.widget)}</td>
                <td class="px-5 py-3.5"><State {pocket} /></td>
                <td class="px-5 py-3.5 whitespace-nowrap text-soft max-md:hidden lg:max-2xl:hidden" title={exactly(pocket.draftAt)}>{ago(pocket.draftAt)}</td>
                {#if session.edits}
                  <td data-pick class="w-0 py-2 pe-3 whitespace-nowrap max-sm:hidden">
                    {@render actions(pocket)}
                  </td>
                {/if}
              </tr>
            {/each}
          </tbody>
        </table>
      </div>
      {#if reach.next}<Button kind="plain" class="mt-5" onclick={() => reach.more()}>Show more</Button>{/if}
    {/if}
  {/if}
</main>
{#if session.edits}<Starters customer={reach.list.customer} />{/if}
</div>
{#if rows.asking}{#await import("./HostBox.svelte") then { default: HostBox }}<HostBox {rows} />{/await}{/if}
{#if asking}
  <Box title={asking == "import" ? titles.import : asking == "move" ? `Move ${some} to the newest release?` : `${titles[asking || "duplicate"]} ${some}?`} onclose={() => (asking = "")} onsubmit={confirm}>
    {#if asking == "delete"}
      <p>Drafts and history are deleted and cannot be restored. Published pockets stay: unpublish them first. Pages with their snippets keep working and show nothing in their place.</p>
    {/if}
    {#if !reach.all && ["delete", "unpublish", "move", "duplicate"].includes(asking)}
      <ul class="mt-3 max-h-60 list-disc overflow-y-auto ps-5">{#each picked as pocket (pocket.key)}<li>{pocket.title} <span class="font-mono text-[13px] text-soft">{pocket.key}</span></li>{/each}</ul>
    {/if}
    {#if asking == "publish"}
      <p>This publishes each present draft. Drafts with missing values are not published and are listed.</p>
      {#if !reach.all}
        <dl class="mt-4 grid grid-cols-[minmax(0,12rem)_minmax(0,1fr)] gap-x-4 gap-y-2 max-sm:grid-cols-1 max-sm:gap-y-0.5">
          <dt class="font-medium">Differs from the live version</dt>
          <dd class="text-soft max-sm:mb-2">{differ.length ? named(differ) : "None"}</dd>
          <dt class="font-medium">Not published yet</dt>
          <dd class="text-soft">{fresh.length ? named(fresh) : "None"}</dd>
        </dl>
      {/if}
    {:else if asking == "move"}
      <p>This publishes each live version again with its widget's newest release. Drafts do not change. Pockets that cannot use the release do not change and are listed.</p>
    {:else if asking == "unpublish"}
      <p>Pages with their snippets show nothing in their place. Drafts and history stay.</p>
    {:else if asking != "delete"}
      {#if asking == "import"}
        <label class="mb-1 block font-medium" for="import-file">File</label>
        <input id="import-file" type="file" accept=".json,application/json" class="field mb-4" required onchange={(e) => (file = e.currentTarget.files?.[0])} aria-describedby="import-about" />
        <p id="import-about" class="mb-4 text-sm text-soft">An exported file with one or more pockets. Each gets a new key and is not published.</p>
      {/if}
      {#if session.operator}
        <label class="mb-1 block font-medium" for="to-customer">For which customer?</label>
        <CustomerChoice id="to-customer" value={customer} onchange={(c) => (customer = c)} choose onfound={(found) => (customer ||= only(found))} />
      {/if}
      {#if asking == "duplicate"}<p class="mt-3 text-soft">This includes drafts, preview cases and assets. The new pockets get new keys and are not published.</p>{/if}
    {/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (asking = "")}>Cancel</Button>
      <Button type="submit" kind={asking == "delete" || asking == "unpublish" ? "grave" : "main"} disabled={(asking == "import" && !file) || ((asking == "import" || asking == "duplicate") && session.operator && !customer)}>{asking == "import" ? "Import" : titles[asking || "duplicate"]}</Button>
    {/snippet}
  </Box>
{/if}
