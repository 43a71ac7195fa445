<script lang="ts">
  // The items of a list, first those that it shows, then those that it does not, with the reasons.
  // Each can be hidden, pinned or corrected.
  import type { SourceItem, SourceReason } from "../../api/types";
  import { aboutOf, nameOf } from "../../sources/words";
  import type { ListSources } from "./sources.svelte";

  let { it, path, only = $bindable(""), readonly }: { it: ListSources; path: string; only?: string; readonly: boolean } = $props();
  const few = 5; // rows without a further click
  let all = $state(false);
  let open = $state("");
  const shown = $derived((it.selection?.shown ?? []).map((item, i) => ({ item, i, reasons: [] as SourceReason[] })));
  const dropped = $derived((it.selection?.dropped ?? []).map(({ item, reasons }) => ({ item, i: -1, reasons })));
  const label = $derived(it.selection?.rules.find((r) => r.rule == only)?.label);
  const rows = $derived(label ? dropped.filter((d) => d.reasons.some((r) => r.rule == only)) : all ? [...shown, ...dropped] : shown.slice(0, few));
  const more = $derived(shown.length + dropped.length - rows.length);
  const source = (item: SourceItem) => (item.source ? (it.selection?.sources[item.source] ?? "") : "typed in");
  const several = $derived(it.from.length > 1 || shown.some((s) => !s.item.source));
  // A click on an item in the preview opens its row.
  $effect(() => {
    const wanted = it.editor.wanted?.path;
    if (!wanted?.startsWith(path + "/")) return;
    const at = shown[Number(wanted.split("/")[1])];
    if (!at) return;
    [all, only, open] = [true, "", at.item.id];
  });
  const fields: [string, string, boolean][] = [["title", "Title", false], ["text", "Text", true]];
</script>

<div class="border-t border-line">
  {#if label}<p class="flex items-baseline gap-2 px-3 pt-2 text-sm"><span class="font-medium">Dropped by “{label}”</span><button type="button" class="rounded text-soft underline underline-offset-4 hover:text-ink" onclick={() => (only = "")}>Show all items</button></p>{/if}
  <ul class="divide-y divide-line">
    {#each rows as { item, i, reasons } (item.id)}
      <li class={["px-3 py-1.5", reasons.length && "bg-sunk"]} data-path={i >= 0 ? `${path}/${i}` : undefined}>
        <div class="flex items-center gap-1">
          <button type="button" data-item class="min-h-9 min-w-0 flex-1 text-start" aria-expanded={open == item.id} onclick={() => (open = open == item.id ? "" : item.id)}>
            <span class={["block truncate", reasons.length ? "text-soft" : "font-medium"]}>{nameOf(item)}{#if it.list.corrections?.[item.id]}<span class="ms-1.5 text-sm font-normal text-teal">corrected</span>{/if}</span>
            <span class="block truncate text-sm text-soft">{[...new Set([...aboutOf(item), several && source(item)])].filter(Boolean).join(" · ")}</span>
            {#each reasons as r (r.rule + r.why)}<span class="block text-sm text-warn">{r.why}</span>{/each}
          </button>
          {#if !readonly}
            <button type="button" class={["grid size-8 place-items-center rounded hover:text-ink", it.pinned(item.id) ? "text-teal" : "text-soft"]} aria-pressed={it.pinned(item.id)} aria-label="Pin: {nameOf(item)}" title={it.pinned(item.id) ? "Do not pin" : "Show first, whatever the rules"} onclick={() => it.pin(item)}>
              <svg viewBox="0 0 16 16" class="size-4" aria-hidden="true" fill={it.pinned(item.id) ? "currentColor" : "none"} stroke="currentColor" stroke-width="1.4"><path d="M5 1.5h6L10 6l2.5 2.5h-9L6 6 5 1.5ZM8 8.5v6" /></svg>
            </button>
            <button type="button" class={["grid size-8 place-items-center rounded hover:text-ink", it.hidden(item.id) ? "text-warn" : "text-soft"]} aria-pressed={it.hidden(item.id)} aria-label="Hide: {nameOf(item)}" title={it.hidden(item.id) ? "Do not hide" : "Hide from visitors"} onclick={() => it.hide(item)}>
              <svg viewBox="0 0 16 16" class="size-4" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="1.4"><path d="M1.5 8s2.4-4.5 6.5-4.5S14.5 8 14.5 8 12.1 12.5 8 12.5 1.5 8 1.5 8Z" /><circle cx="8" cy="8" r="2" />{#if it.hidden(item.id)}<path d="M2 14 14 2" />{/if}</svg>
            </button>
          {/if}
        </div>
        {#if open == item.id}
          <div class="space-y-2 pt-1 pb-2">
            {#each fields as [name, words, lines] (name)}
              {@const corrected = it.list.corrections?.[item.id]?.[name]}
              <div>
                <div class="mb-1 flex items-baseline justify-between gap-2">
                  <label class="text-sm font-medium" for="item-{item.id}-{name}">{words}</label>
                  {#if corrected !== undefined && !readonly}<button type="button" class="rounded text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => it.correct(item.id, name, null)}>As the source has it</button>{/if}
                </div>
                {#if lines}
                  <textarea id="item-{item.id}-{name}" class="field text-sm" rows="4" disabled={readonly} value={String(corrected ?? item.values[name] ?? "")} onchange={(e) => it.correct(item.id, name, e.currentTarget.value)}></textarea>
                {:else}
                  <input id="item-{item.id}-{name}" class="field text-sm" disabled={readonly} value={String(corrected ?? item.values[name] ?? "")} onchange={(e) => it.correct(item.id, name, e.currentTarget.value)} />
                {/if}
              </div>
            {/each}
          </div>
        {/if}
      </li>
    {/each}
  </ul>
  {#if more > 0 && !label}
    <button type="button" class="w-full px-3 py-2 text-start text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => (all = true)}>{shown.length > few ? `All ${shown.length} items` : "All items"}{dropped.length ? `, and ${dropped.length} that are not shown` : ""}</button>
  {:else if all && shown.length + dropped.length > few && !label}
    <button type="button" class="w-full px-3 py-2 text-start text-sm text-soft underline underline-offset-4 hover:text-ink" onclick={() => (all = false)}>Fewer</button>
  {/if}
</div>
