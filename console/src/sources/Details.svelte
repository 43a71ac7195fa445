<script lang="ts">
  // One source: where it is, what uses it, its items, and what came of its fetches.
  import { sources as api } from "../api/sources";
  import { explain } from "../api/refused";
  import type { Outline, Source, SourceFetch, SourceItem } from "../api/types";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import { ago, exactly } from "../ui/time";
  import Mapping from "./Mapping.svelte";
  import { aboutOf, count, nameOf } from "./words";

  let { source, onchange, ondelete }: { source: Source; onchange: (source: Source) => void; ondelete: () => void } = $props();
  let whole = $state.raw<Source | null>(null);
  let fetches = $state.raw<SourceFetch[]>([]);
  let items = $state.raw<SourceItem[]>([]);
  let next = $state("");
  let search = $state("");
  let trouble = $state("");
  // svelte-ignore state_referenced_locally: the field starts with the present name
  let name = $state(source.name);
  let outline = $state.raw<Outline | null>(null);
  let mapping = $state.raw<Record<string, string>>({});
  let tried = $state.raw<SourceItem[]>([]);
  let deleting = $state(false);
  let turn = 0;

  async function act(does: () => Promise<unknown>) {
    trouble = "";
    try {
      await does();
    } catch (e) {
      session.expire(e);
      trouble = explain(e);
    }
  }
  // Again after each fetch, and after each change.
  $effect(() => {
    void [source.checkedAt, source.revision, source.items, source.why];
    void act(async () => {
      [whole, fetches] = await Promise.all([api.read(source.id), api.fetches(source.id).then((f) => f.fetches)]);
      await find();
    });
  });
  async function find(more = false) {
    const mine = ++turn;
    const page = await api.items(source.id, search.trim(), more ? next : "");
    if (mine != turn) return;
    items = more ? [...items, ...page.items] : page.items;
    next = page.next ?? "";
  }
  const change = (it: Parameters<typeof api.change>[2]) => act(async () => onchange((whole = await api.change(source.id, whole!.revision, it))));
  const look = (to: Record<string, string> | null) =>
    act(async () => {
      const found = await api.lookAt(source.id, to ? { options: { ...source.options, mapping: to } } : {});
      const first = found.candidates[0];
      [outline, mapping, tried] = [first.outline ?? null, first.options.mapping ?? {}, first.items];
    });
  async function replace(file: File | undefined) {
    if (!file) return;
    const reader = new FileReader();
    reader.onload = () => void change({ file: String(reader.result).split(",")[1], fileName: file.name });
    reader.readAsDataURL(file);
  }
  const mapped = $derived(source.reader == "table" || source.reader == "json");
  const size = (n: number) => (n < 1024 ? `${n} B` : n < 2 ** 20 ? `${Math.round(n / 1024)} KB` : `${(n / 2 ** 20).toFixed(1)} MB`);
  const result = (f: SourceFetch) => f.why || [f.added && `${f.added} new`, f.changed && `${f.changed} changed`, f.removed && `${f.removed} removed`].filter(Boolean).join(", ") || "unchanged";
</script>

<div class="space-y-6 border-t border-line bg-paper px-5 py-5">
  {#if trouble}<p role="alert" class="text-bad">{trouble}</p>{/if}
  <dl class="grid gap-x-6 gap-y-1.5 sm:grid-cols-[auto_1fr] [&_dt]:text-soft">
    <dt>Address</dt><dd class="wrap-anywhere">{source.address || source.fileName}</dd>
    {#if source.about.place}<dt>Place</dt><dd>{source.about.place}</dd>{/if}
    {#if source.about.rated?.count}<dt>Rating</dt><dd>{source.about.rated.value} of {source.about.rated.best}, {count(source.about.rated.count, "review")}</dd>{/if}
    {#if source.secretIn}<dt>Token</dt><dd>Stored encrypted</dd>{/if}
    <dt>Used by</dt>
    <dd>{#each whole?.usedBy ?? [] as key, i (key)}{i ? ", " : ""}<a class="underline underline-offset-4" href={`/pockets/${key}`} onclick={router.follow}>{key}</a>{:else}{whole ? "no pocket" : ""}{/each}</dd>
    {#if source.nextAt}<dt>Next fetch</dt><dd>{exactly(source.nextAt)}</dd>{/if}
    {#each [...source.about.repairs, ...source.about.skipped] as note, i (note)}<dt>{i ? "" : "Notes"}</dt><dd class="text-sm text-soft">{note}</dd>{/each}
  </dl>
  {#if session.edits}
    <form class="flex flex-wrap items-end gap-2" onsubmit={(e) => (e.preventDefault(), void change({ name }))}>
      <div class="min-w-0 flex-1 basis-60"><label class="mb-1 block text-sm font-medium" for="name-{source.id}">Name</label><input id="name-{source.id}" class="field" maxlength="120" bind:value={name} required /></div>
      <Button type="submit" kind="plain" disabled={name.trim() == source.name}>Rename</Button>
      {#if source.state == "file"}
        <label class="inline-flex min-h-9 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-4 font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk"><input type="file" class="sr-only" onchange={(e) => replace(e.currentTarget.files?.[0])} />Replace file</label>
      {/if}
      {#if mapped && !outline}<Button kind="plain" onclick={() => look(null)}>Fields</Button>{/if}
      <Button kind="grave" onclick={() => (deleting = true)}>Delete</Button>
    </form>
  {/if}
  {#if deleting}
    <div class="flex flex-wrap items-center gap-3 rounded-lg border border-bad bg-sheet px-4 py-3">
      <p class="flex-1">Delete this source and its {count(source.items, "item")}? This cannot be undone.</p>
      <Button kind="plain" onclick={() => (deleting = false)}>Cancel</Button>
      <Button kind="grave" onclick={() => act(async () => {
          await api.remove(source.id);
          ondelete();
        })}>Delete source</Button>
    </div>
  {/if}
  {#if outline}
    <div class="max-w-xl rounded-lg border border-line bg-sheet">
      <Mapping {outline} {mapping} onchange={(to) => look(to)} />
      <ul class="divide-y divide-line text-sm">{#each tried.slice(0, 4) as item (item.id)}<li class="px-3 py-1.5"><span class="line-clamp-1">{nameOf(item)}</span><span class="text-soft">{aboutOf(item).join(" · ")}</span></li>{/each}</ul>
      <div class="flex justify-end gap-2 border-t border-line px-3 py-2"><Button kind="plain" onclick={() => (outline = null)}>Cancel</Button><Button onclick={() => change({ options: { ...source.options, mapping } }).then(() => (outline = null))}>Save fields</Button></div>
    </div>
  {/if}
  <section aria-label="Items">
    <div class="mb-2 flex flex-wrap items-center justify-between gap-3"><h3 class="font-semibold">Items</h3><input type="search" class="field w-60" placeholder="Find items" aria-label="Find items of {source.name}" bind:value={search} oninput={() => act(() => find())} autocomplete="off" /></div>
    <ul class="divide-y divide-line rounded-lg border border-line bg-sheet text-sm">
      {#each items as item (item.id)}<li class="px-3 py-1.5"><span class="line-clamp-1 font-medium">{nameOf(item)}</span><span class="text-soft">{aboutOf(item).join(" · ")}</span></li>{:else}<li class="px-3 py-3 text-soft">{search ? "No items have these words." : "There are no items."}</li>{/each}
    </ul>
    {#if next}<Button kind="plain" class="mt-2 min-h-8 text-sm" onclick={() => act(() => find(true))}>Show more</Button>{/if}
  </section>
  {#if fetches.length}
    <section aria-label="Fetches">
      <h3 class="mb-2 font-semibold">Fetches</h3>
      <!-- svelte-ignore a11y_no_noninteractive_tabindex: the keyboard scrolls it -->
      <div class="overflow-x-auto rounded-lg border border-line bg-sheet" tabindex="0" role="region" aria-label="Fetch history">
        <table class="w-full text-sm [&_td]:px-3 [&_td]:py-1.5 [&_th]:px-3 [&_th]:py-1.5 [&_th]:text-start [&_th]:font-medium [&_th]:text-soft [&_tr]:border-b [&_tr]:border-line [&_tr:last-child]:border-0">
          <thead><tr><th>Time</th><th>Status</th><th>Size</th><th>Result</th></tr></thead>
          <tbody>
            {#each fetches as f (f.at)}<tr><td class="whitespace-nowrap" title={exactly(f.lastAt)}>{ago(f.lastAt)}{f.times > 1 ? ` (${f.times} times)` : ""}</td><td>{f.status || "none"}</td><td class="whitespace-nowrap">{f.bytes ? size(f.bytes) : ""}</td><td class={f.why ? "text-bad" : ""}>{result(f)}{f.by ? `, requested by ${f.by}` : ""}</td></tr>{/each}
          </tbody>
        </table>
      </div>
    </section>
  {/if}
</div>
