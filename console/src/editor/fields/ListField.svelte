<script lang="ts">
  // A list of groups. Each item has its own id, so that it can be moved. One item is open at a
  // time.
  import Button from "../../ui/Button.svelte";
  import Field from "../Field.svelte";
  import { useEditor } from "../context";
  import { matters } from "../matters";
  import { types } from "./table";
  import type { FieldProps } from "./types";

  type Item = Record<string, unknown> & { id: string };
  let { setting, value, id, path, faults, describedby, onchange }: FieldProps = $props();
  const items = $derived((value as Item[] | null) ?? []);
  const fields = $derived(setting.fields ?? []);
  let open = $state("");
  let dragged = $state("");
  let said = $state("");
  let list: HTMLElement;

  // Opens an item that is requested from another part of the page.
  const editor = useEditor();
  $effect(() => {
    const wanted = editor.wanted?.path;
    if (wanted?.startsWith(path + "/")) open = items[Number(wanted.split("/")[1])]?.id ?? open;
  });
  const fresh = () => crypto.randomUUID().slice(0, 8);
  const valueOf = (item: Item, key: string) => item[key] ?? fields.find((f) => f.key == key)?.default ?? null;

  // A short name for an item: its first text that is not empty.
  function name(item: Item, i: number): string {
    for (const f of fields) {
      const v = item[f.key] as string | Record<string, unknown> | undefined;
      if (types[f.type]?.names && v) return String(v).slice(0, 60);
      if (f.fields && (v as Record<string, unknown>)?.name) return String((v as Record<string, unknown>).name);
    }
    return `${setting.label.en} ${i + 1}`;
  }
  const change = (item: Item, key: string, v: unknown) => onchange(items.map((e) => (e.id == item.id ? { ...e, [key]: v } : e)));
  function add() {
    const item = { id: fresh() };
    if (editor.sight?.sampled(path)) editor.notice = `${setting.label.en}: the preview now shows your content instead of samples.`;
    onchange([...items, item]);
    open = item.id;
    said = "Added.";
  }
  function copy(i: number) {
    const item = { ...structuredClone($state.snapshot(items[i])), id: fresh() } as Item;
    onchange([...items.slice(0, i + 1), item, ...items.slice(i + 1)]);
    open = item.id;
    said = "Doubled.";
  }
  function remove(i: number) {
    said = `${name(items[i], i)} deleted.`;
    onchange(items.filter((_, n) => n != i));
    // Focuses the neighbour.
    queueMicrotask(() => list.querySelectorAll<HTMLElement>("[data-item]")[Math.min(i, items.length - 1)]?.focus());
  }
  function move(from: number, to: number) {
    if (to < 0 || to >= items.length || from == to) return;
    const next = [...items];
    next.splice(to, 0, ...next.splice(from, 1));
    onchange(next);
    said = `Moved to position ${to + 1} of ${items.length}.`;
  }
  function hide(item: Item, i: number) {
    const { hidden, ...rest } = item;
    onchange(items.map((e) => (e.id == item.id ? (hidden ? rest : { ...rest, hidden: true }) : e)));
    said = hidden ? `${name(item, i)} is visible to visitors again.` : `${name(item, i)} is hidden from visitors.`;
  }
  const faulty = (i: number) => Object.keys(faults).some((f) => f.startsWith(`${path}/${i}/`));
  const full = $derived(items.length >= (setting.maxItems ?? 50));
</script>

<div role="group" aria-labelledby="{id}-label" aria-describedby={describedby}>
  {#if items.length == 0}<p class="mb-2 rounded-lg bg-sunk px-3 py-2.5 text-sm text-soft">Empty.</p>{/if}
  <ol bind:this={list} class="mb-2 space-y-1.5">
    {#each items as item, i (item.id)}
      <li
        data-path="{path}/{i}"
        class={["rounded-lg border bg-sheet", faulty(i) ? "border-bad" : "border-line", dragged == item.id && "opacity-50"]}
        ondragover={(e) => {
          const from = items.findIndex((x) => x.id == dragged);
          if (from < 0) return;
          e.preventDefault();
          if (dragged != item.id) move(from, i);
        }}
        ondrop={(e) => e.preventDefault()}
      >
        <div class="flex items-center">
          <span class="cursor-grab px-2 py-1 text-soft select-none" role="presentation" draggable={!editor.readonly} ondragstart={(e) => {
              dragged = item.id;
              e.dataTransfer?.setData("text/plain", item.id);
            }} ondragend={() => (dragged = "")}>⠿</span>
          <button
            type="button"
            data-item
            class={["min-h-10 min-w-0 flex-1 truncate text-start font-medium", item.hidden && "text-soft line-through"]}
            aria-expanded={open == item.id}
            aria-keyshortcuts="Alt+ArrowUp Alt+ArrowDown"
            onclick={() => (open = open == item.id ? "" : item.id)}
            onkeydown={(e) => {
              if (!e.altKey || (e.key != "ArrowUp" && e.key != "ArrowDown")) return;
              e.preventDefault();
              move(i, i + (e.key == "ArrowUp" ? -1 : 1));
            }}>{name(item, i)}</button
          >
          {#if setting.kind}
            <button type="button" class={["grid size-8 place-items-center rounded hover:text-ink", item.hidden ? "text-warn" : "text-soft"]} aria-pressed={!!item.hidden} aria-label="Hide: {name(item, i)}" title={item.hidden ? "Show to visitors" : "Hide from visitors"} onclick={() => hide(item, i)}>
              <svg viewBox="0 0 16 16" class="size-4" aria-hidden="true" fill="none" stroke="currentColor" stroke-width="1.4"><path d="M1.5 8s2.4-4.5 6.5-4.5S14.5 8 14.5 8 12.1 12.5 8 12.5 1.5 8 1.5 8Z" /><circle cx="8" cy="8" r="2" />{#if item.hidden}<path d="M2 14 14 2" />{/if}</svg>
            </button>
          {/if}
          {#each [["↑", "Move up", () => move(i, i - 1), i == 0], ["↓", "Move down", () => move(i, i + 1), i == items.length - 1], ["⧉", "Duplicate", () => copy(i), full], ["✕", "Delete", () => remove(i), false]] as [sign, what, do_, off] (what)}
            <button type="button" class="grid size-8 place-items-center rounded text-soft hover:text-ink disabled:opacity-30" aria-label="{what}: {name(item, i)}" title={what as string} disabled={off as boolean} onclick={do_ as () => void}>{sign}</button>
          {/each}
        </div>
        {#if open == item.id || editor.readonly}
          <div class="border-t border-line px-3 pt-3">
            {#each fields.filter((f) => matters(f, (key) => valueOf(item, key))) as field (field.key)}
              <Field setting={field} value={valueOf(item, field.key)} path="{path}/{i}/{field.key}" {faults} onchange={(v) => change(item, field.key, v)} />
            {/each}
          </div>
        {/if}
      </li>
    {/each}
  </ol>
  <Button kind="plain" class="min-h-8 px-3 text-sm" {id} disabled={full} onclick={add}>Add</Button>
  {#if full}<span class="ms-2 text-sm text-soft">The limit is {setting.maxItems}.</span>{/if}
  <p class="sr-only" role="status">{said}</p>
</div>
