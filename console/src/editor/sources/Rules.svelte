<script lang="ts">
  // The rules of a list. Beside each one is how many items it drops; a click lists these.
  import type { Listing, Terms } from "../../api/types";
  import type { ListSources } from "./sources.svelte";

  let { it, only = $bindable(""), readonly }: { it: ListSources; only?: string; readonly: boolean } = $props();
  const list = $derived(it.list);
  const has = (kind: string) => !!it.selection && [...it.selection.shown, ...it.selection.dropped.map((d) => d.item)].some((i) => i.values[kind] !== undefined);
  const rated = $derived(has("rating") || !!list.rating);
  const dated = $derived(has("startDate") || !!list.upcoming || list.order == "upcoming");
  const dates = $derived(it.editor.setting(it.key)?.kind == "date"); // the service orders these by their start
  const tagged = $derived(has("tags") || !!list.tags);
  const replied = $derived(has("inReplyTo") || !!list.noReplies);
  const drops = (rule: string) => it.selection?.rules.find((r) => r.rule == rule)?.drops ?? 0;
  const orders = $derived(
    [["newest", "Newest first"], ["oldest", "Oldest first"], ...(rated ? [["best", "Best rating first"]] : []), ...(dated ? [["upcoming", "Upcoming dates"]] : []), ["shuffled", "Shuffled, new each day"], ["listed", "As the sources list them"]] as [string, string][],
  );
  const split = (text: string) => text.split(",").map((t) => t.trim()).filter(Boolean);
  const terms = (key: "words" | "tags", part: keyof Terms, text: string) => it.set({ [key]: { ...list[key], [part]: split(text) } } as Partial<Listing>, "Rules", true);
  let typing = $state({ id: "", text: "" }); // as typed, while the field has the focus
  const number = (text: string) => Math.max(0, Math.floor(Number(text)) || 0);
</script>

{#snippet dropped(rule: string)}
  {#if drops(rule)}<button type="button" class={["ms-auto shrink-0 rounded px-1 text-sm underline underline-offset-4", only == rule ? "font-medium text-ink" : "text-soft hover:text-ink"]} aria-pressed={only == rule} onclick={() => (only = only == rule ? "" : rule)}>drops {drops(rule)}</button>{/if}
{/snippet}
{#snippet box(rule: string, label: string, on: boolean, set: (on: boolean) => void)}
  <div class="flex items-center gap-2"><label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" checked={on} onchange={(e) => set(e.currentTarget.checked)} />{label}</label>{@render dropped(rule)}</div>
{/snippet}
{#snippet line(rule: string, label: string, id: string, value: string, placeholder: string, set: (text: string) => void)}
  <div>
    <div class="mb-1 flex items-baseline gap-2"><label class="text-sm font-medium" for={id}>{label}</label>{#if value}{@render dropped(rule)}{/if}</div>
    <input
      {id}
      class="field"
      value={typing.id == id ? typing.text : value}
      {placeholder}
      autocomplete="off"
      oninput={(e) => {
        typing = { id, text: e.currentTarget.value };
        set(typing.text);
      }}
      onblur={() => (typing = { id: "", text: "" })}
    />
  </div>
{/snippet}

<fieldset disabled={readonly} class="space-y-3 pb-3">
  {#if drops("kind")}<p class="flex items-baseline gap-2 text-sm">Of a kind that the widget does not show{@render dropped("kind")}</p>{/if}
  {#if drops("needs")}<p class="flex items-baseline gap-2 text-sm">Without a field that the widget needs{@render dropped("needs")}</p>{/if}
  <div class="grid grid-cols-2 gap-3">
    <div>
      <label class="mb-1 block text-sm font-medium" for="{it.key}-rule-order">Order</label>
      <select id="{it.key}-rule-order" class="field" value={list.order || (dates ? "upcoming" : "newest")} onchange={(e) => it.set({ order: e.currentTarget.value })}>{#each orders as [value, label] (value)}<option {value}>{label}</option>{/each}</select>
    </div>
    <div>
      <div class="mb-1 flex items-baseline gap-2"><label class="text-sm font-medium" for="{it.key}-rule-most">Number of items</label>{@render dropped("most")}</div>
      <input id="{it.key}-rule-most" type="number" min="0" class="field" value={list.most || ""} placeholder="as many as fit" oninput={(e) => it.set({ most: number(e.currentTarget.value) }, "Rules", true)} />
    </div>
    {#if rated}
      <div>
        <div class="mb-1 flex items-baseline gap-2"><label class="text-sm font-medium" for="{it.key}-rule-rating">Rating at least</label>{@render dropped("rating")}</div>
        <select id="{it.key}-rule-rating" class="field" value={String(list.rating ?? 0)} onchange={(e) => it.set({ rating: Number(e.currentTarget.value) })}><option value="0">any</option>{#each [2, 3, 4, 4.5, 5] as n (n)}<option value={String(n)}>{n} of 5</option>{/each}</select>
      </div>
      <div>
        <label class="mb-1 block text-sm font-medium" for="{it.key}-rule-average">Average rating covers</label>
        <select id="{it.key}-rule-average" class="field" value={list.average || "all"} onchange={(e) => it.set({ average: e.currentTarget.value })}><option value="all">all reviews</option><option value="shown">those that pass the rules</option></select>
      </div>
    {/if}
    <div>
      <div class="mb-1 flex items-baseline gap-2"><label class="text-sm font-medium" for="{it.key}-rule-days">Maximum age in days</label>{@render dropped("days")}</div>
      <input id="{it.key}-rule-days" type="number" min="0" class="field" value={list.days || ""} placeholder="any" oninput={(e) => it.set({ days: number(e.currentTarget.value) }, "Rules", true)} />
    </div>
    {@render line("languages", "Languages", `${it.key}-rule-languages`, (list.languages ?? []).join(", "), "any", (t) => it.set({ languages: split(t) }, "Rules", true))}
  </div>
  {@render line("words", "Only with one of these words", `${it.key}-rule-words`, (list.words?.some ?? []).join(", "), "pottery, kiln evening", (t) => terms("words", "some", t))}
  {@render line("words", "Not with any of these words", `${it.key}-rule-no-words`, (list.words?.none ?? []).join(", "), "refund", (t) => terms("words", "none", t))}
  {#if tagged}
    {@render line("tags", "Only with one of these tags", `${it.key}-rule-tags`, (list.tags?.some ?? []).join(", "), "clay", (t) => terms("tags", "some", t))}
    {@render line("tags", "Not with any of these tags", `${it.key}-rule-no-tags`, (list.tags?.none ?? []).join(", "), "", (t) => terms("tags", "none", t))}
  {/if}
  {#if it.from.length > 1 || it.from.some((f) => f.most)}
    <div role="group" aria-label="At most from each source">
      <div class="mb-1 flex items-baseline gap-2"><span class="text-sm font-medium">At most from each source</span>{@render dropped("from")}</div>
      {#each it.from as { source, most, it: s } (source)}
        <label class="mb-1.5 flex items-center gap-2"><input type="number" min="0" class="field w-24" value={most || ""} placeholder="all" oninput={(e) => it.limit(source, number(e.currentTarget.value))} /><span class="min-w-0 truncate">{s?.name ?? "…"}</span></label>
      {/each}
    </div>
  {/if}
  <div class="space-y-1.5">
    {@render box("withText", "Only with text", !!list.withText, (withText) => it.set({ withText }))}
    {@render box("withImage", "Only with an image", !!list.withImage, (withImage) => it.set({ withImage }))}
    {#if replied}{@render box("noReplies", "No replies to other posts", !!list.noReplies, (noReplies) => it.set({ noReplies }))}{/if}
    {#if dated && list.order != "upcoming"}{@render box("upcoming", "Only dates that are not over", !!list.upcoming, (upcoming) => it.set({ upcoming }))}{/if}
    {@render box("repeats", "Show duplicates once", !list.repeats, (on) => it.set({ repeats: !on }))}
  </div>
  <p class="text-sm text-soft">Words and tags are compared without case and accents. Separate them with commas.</p>
</fieldset>
