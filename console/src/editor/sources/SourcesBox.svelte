<script lang="ts">
  // The sources of a list: connected ones with their state, the rules, and the items that result.
  import { onMount, tick, untrack } from "svelte";
  import type { NewSource, Source, SourceCandidate } from "../../api/types";
  import { session } from "../../session/session.svelte";
  import { type Wish, wishes } from "../../sources/wish";
  import { ago, exactly } from "../../ui/time";
  import Button from "../../ui/Button.svelte";
  import type { PocketEditor } from "../editor.svelte";
  import ConnectBox from "../../sources/ConnectBox.svelte";
  import { count } from "../../sources/words";
  import ItemRows from "./ItemRows.svelte";
  import Rules from "./Rules.svelte";
  import { ListSources } from "./sources.svelte";

  let { editor, path, label }: { editor: PocketEditor; path: string; label: string } = $props();
  // svelte-ignore state_referenced_locally: the box is for one list
  const it = new ListSources(editor, path);
  // A pocket without content starts with the address.
  const begins = () => !editor.readonly && editor.first?.key == path && !!editor.setting(path)?.kinds && editor.pocket?.publication == 0 && !it.from.length && !(editor.draft.get(path) as unknown[] | null)?.length && !found();
  const found = (): Wish | null => (session.guest ? (wishes.get(editor.key)[path] ?? null) : null);
  let wish = $state.raw(found());
  let connecting = $state(begins());
  let box = $state<HTMLElement>();
  let ruling = $state(false);
  let only = $state(""); // a rule: only what it drops is listed
  onMount(() => {
    if (!session.guest) void it.load();
    showWish();
    return () => it.close();
  });
  const from = $derived(it.from);
  $effect(() => {
    void JSON.stringify([it.list, editor.draft.get(path), editor.sight.drawn]);
    if (untrack(() => from.length)) untrack(() => it.look());
  });
  $effect(() => void (editor.wished[path] = !!wish));
  // The preview shows what a guest has found, until it can be connected.
  function showWish() {
    if (wish) editor.sight.try({ key: path, values: wish.items.map((i) => ({ ...i.values, id: i.id })) });
  }
  async function wished(source: NewSource, chosen: SourceCandidate) {
    wish = { source, items: chosen.items, count: chosen.count };
    wishes.set(editor.key, path, wish);
    await connected();
    queueMicrotask(showWish); // after the connect box has taken back what it showed
  }
  // Entries that somebody pasted go to the line for typed-in ones.
  async function typed(table: DataTransfer) {
    connecting = false;
    await tick();
    const line = document.getElementById(`setting-${path}`);
    line?.focus();
    line?.dispatchEvent(new ClipboardEvent("paste", { clipboardData: table, bubbles: true, cancelable: true }));
  }
  function forget() {
    wish = null;
    wishes.set(editor.key, path, null);
    editor.sight.try(null);
  }
  // Closes the connect box; the focus returns to where it was opened.
  async function connected(source?: Source) {
    if (source) it.add(source);
    connecting = false;
    await tick();
    box?.querySelector<HTMLElement>("[data-adds]")?.focus({ preventScroll: true });
    box?.scrollIntoView({ block: "nearest" });
  }
  const setting = $derived(editor.setting(path));
  // Why nothing is shown, if one reason is enough.
  const why = $derived(it.selection && !it.selection.shown.length ? it.selection.dropped[0]?.reasons[0]?.why : "");
  const lasting = (s: Source) => (s.failingSince && Date.now() - Date.parse(s.failingSince) > 864e5 ? "bad" : "warn");
</script>

<div bind:this={box} class="mb-3 rounded-lg border border-line bg-paper" role="group" aria-label="Sources of {label}">
  {#if wish}
    <div class="flex items-start gap-2 px-3 py-2.5">
      <div class="min-w-0 flex-1">
        <p class="truncate font-medium">{wish.source.name}</p>
        <p class="text-sm text-soft">{count(wish.count, "item")}. Connected when you sign up.</p>
      </div>
      <button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink" aria-label="Remove {wish.source.name} from this list" title="Remove from this list" onclick={forget}>✕</button>
    </div>
  {:else if from.length == 0}
    <div class="flex flex-wrap items-center justify-between gap-2 px-3 py-2.5">
      <p class="min-w-0 flex-1 text-sm text-soft">Show content from elsewhere: reviews, a feed, a calendar, a profile, a file.</p>
      {#if !editor.readonly && !connecting}<Button kind="plain" class="min-h-8 px-3 text-sm" data-adds onclick={() => (connecting = true)}>Connect a source</Button>{/if}
    </div>
  {:else}
    <ul class="divide-y divide-line">
      {#each from as { source, it: s }, i (source)}
        <li class="flex items-start gap-2 px-3 py-2">
          <div class="min-w-0 flex-1">
            <p class="truncate font-medium" title={s?.name}>{s?.name ?? (it.known ? "A source that no longer exists" : "…")}</p>
            {#if s}
              <p class="text-sm text-soft">
                {count(s.items, "item")}{#if s.checkedAt}<span title={exactly(s.checkedAt)}>, checked {ago(s.checkedAt)}</span>{/if}{#if s.pushed && s.state == "current"}, reports changes by itself{/if}
              </p>
              {#if s.state == "failing" || s.state == "ended"}
                <p class={["mt-0.5 text-sm", lasting(s) == "bad" ? "text-bad" : "text-warn"]}>{s.why} {s.hint}{#if s.changedAt}{" "}Visitors see the items of {ago(s.changedAt)}.{/if}</p>
              {/if}
            {/if}
          </div>
          {#if s && !editor.readonly}
            {#if s.state != "file"}<button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink disabled:opacity-40" disabled={it.busy == source} aria-label="Refresh {s.name}" title="Fetch it now" onclick={() => it.refresh(source)}>↻</button>{/if}
            {#if i > 0}<button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink" aria-label="Move {s.name} up" title="Move up" onclick={() => it.move(i, i - 1)}>↑</button>{/if}
            <button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink" aria-label="Remove {s.name} from this list" title="Remove from this list" onclick={() => it.remove(source)}>✕</button>
          {/if}
        </li>
      {/each}
    </ul>
    <div class="flex flex-wrap items-center gap-2 border-t border-line px-3 py-2">
      <p class="min-w-0 flex-1 text-sm" aria-live="polite">{#if it.selection}Shows {it.selection.shown.length} of {count(it.selection.total, "item")}.{/if}{#if why}{" "}<span class="text-bad">{why}</span>{/if}</p>
      <Button kind="plain" class="min-h-8 px-3 text-sm" aria-expanded={ruling} onclick={() => (ruling = !ruling)}>Rules</Button>
      {#if !editor.readonly && !connecting}<Button kind="plain" class="min-h-8 px-3 text-sm" data-adds onclick={() => (connecting = true)}>Add a source</Button>{/if}
    </div>
  {/if}
  {#if connecting}
    <div class="border-t border-line px-3 py-3">
      <ConnectBox customer={editor.pocket!.customer} id={path} kinds={setting?.kinds} needs={setting?.needs} tryout={(values) => editor.sight.try(values && { key: path, values })} known={(it.known ?? []).filter((s) => !from.some((f) => f.source == s.id))} onclose={() => connected()} onconnected={connected} onwish={session.guest ? wished : undefined} ontable={typed} />
    </div>
  {/if}
  {#if ruling && from.length}<div class="border-t border-line px-3 pt-3"><Rules {it} bind:only readonly={editor.readonly} /></div>{/if}
  {#if it.selection && from.length}<ItemRows {it} {path} bind:only readonly={editor.readonly} />{/if}
  {#if it.trouble}<p role="alert" class="border-t border-line px-3 py-2 text-sm text-bad">{it.trouble}</p>{/if}
  <p role="status" class={it.said ? "border-t border-line px-3 py-2 text-sm text-soft" : "sr-only"}>{it.said}</p>
</div>
