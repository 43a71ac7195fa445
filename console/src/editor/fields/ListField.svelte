<script lang="ts">
  // A list of groups. Each item has its own id, so that it can be moved. One item is open at a
  // time.
  import Button from "../../ui/Button.svelte";
  import Field from "../Field.svelte";
  import { imagesOf, upload } from "../assets/upload";
  import { useEditor } from "../context";
  import EntryLine from "../entries/EntryLine.svelte";
  import { session } from "../../session/session.svelte";
  import { matters } from "../matters";
  import { types } from "./table";
  import type { FieldProps } from "./types";

  type Item = Record<string, unknown> & { id: string };
  let { setting, value, id, path, faults, describedby, onchange }: FieldProps = $props();
  const editor = useEditor();
  const own = $derived((value as Item[] | null) ?? []);
  // Until there is an own entry, the list shows the widget's sample. Changing it makes it the
  // customer's own.
  const sampling = $derived(own.length == 0 && !path.includes("/") && editor.sampleShown(path));
  const items = $derived(sampling ? (editor.sampleEntries(path) as Item[]) : own);
  const fields = $derived(setting.fields ?? []);
  const main = $derived(fields.find((f) => types[f.type]?.names && !f.format));
  const pictured = $derived(fields.find((f) => f.type == "image") ?? fields.find((f) => f.type == "list" && f.fields?.length == 1 && f.fields[0].type == "image"));
  let open = $state("");
  let written = $state(""); // id of the entry that is being typed
  let dragged = $state("");
  let over = $state(false); // files are being dragged over the list
  let said = $state("");
  let trouble = $state("");
  let list: HTMLElement;

  // Opens an item that is requested from another part of the page.
  $effect(() => {
    const wanted = editor.wanted?.path;
    if (wanted?.startsWith(path + "/")) open = items[Number(wanted.split("/")[1])]?.id ?? open;
  });
  const fresh = () => crypto.randomUUID().slice(0, 8);

  function commit(next: Item[], what = "") {
    if (sampling) editor.notice = `The sample entries of ${setting.label.en} are now your own. Change or delete them.`;
    if (what) said = what;
    onchange(next);
  }
  // Typed and pasted entries replace the sample; they do not join it.
  function add(entries: Record<string, unknown>[]) {
    if (sampling) editor.notice = `${setting.label.en}: your entries replace the sample.`;
    written = ""; // it is complete, and before these
    onchange([...own, ...entries.map((entry) => ({ ...entry, id: fresh() }))]);
    said = entries.length == 1 ? "Added." : `Added ${entries.length} entries.`;
  }
  function write(text: string) {
    if (!written) {
      if (!text) return;
      written = fresh();
      if (sampling) editor.notice = `${setting.label.en}: your entries replace the sample.`;
      return onchange([...own, { id: written, [main!.key]: text }]);
    }
    if (text) onchange(own.map((e) => (e.id == written ? { ...e, [main!.key]: text } : e)));
    else {
      const gone = written;
      written = "";
      const rest = own.filter((e) => e.id != gone);
      onchange(rest.length ? rest : null); // the sample shows again
    }
  }
  async function images(files: File[]) {
    trouble = "";
    for (const file of files.slice(0, room)) {
      const made = await upload(editor.library, file, "image");
      if ("trouble" in made) trouble = made.trouble;
      else add([pictured!.type == "image" ? { [pictured!.key]: { asset: made.ref } } : { [pictured!.key]: [{ id: fresh(), [pictured!.fields![0].key]: { asset: made.ref } }] }]);
    }
  }
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
  const change = (item: Item, key: string, v: unknown) => commit(items.map((e) => (e.id == item.id ? { ...e, [key]: v } : e)));
  function addBlank() {
    const item = { id: fresh() };
    commit([...items, item], "Added.");
    open = item.id;
  }
  function copy(i: number) {
    const item = { ...structuredClone($state.snapshot(items[i])), id: fresh() } as Item;
    commit([...items.slice(0, i + 1), item, ...items.slice(i + 1)], "Duplicated.");
    open = item.id;
  }
  function remove(i: number) {
    commit(
      items.filter((_, n) => n != i),
      `${name(items[i], i)} deleted.`,
    );
    // Focuses the neighbour.
    queueMicrotask(() => list.querySelectorAll<HTMLElement>("[data-item]")[Math.min(i, items.length - 1)]?.focus());
  }
  function move(from: number, to: number) {
    if (to < 0 || to >= items.length || from == to) return;
    const next = [...items];
    next.splice(to, 0, ...next.splice(from, 1));
    commit(next, `Moved to position ${to + 1} of ${items.length}.`);
  }
  function hide(item: Item, i: number) {
    const { hidden, ...rest } = item;
    commit(items.map((e) => (e.id == item.id ? (hidden ? rest : { ...rest, hidden: true }) : e)));
    said = hidden ? `${name(item, i)} is visible to visitors again.` : `${name(item, i)} is hidden from visitors.`;
  }
  const sourceable = $derived(!!setting.kind && !path.includes("/") && !!editor.pocket);
  const takesFiles = $derived(!!pictured && !session.guest && !editor.readonly);
  const faulty = (i: number) => Object.keys(faults).some((f) => f.startsWith(`${path}/${i}/`));
  const room = $derived((setting.maxItems ?? 50) - (sampling ? 0 : items.length));
  const shown = $derived(items.filter((e) => e.id != written)); // the one being typed is in its line
</script>

{#if sourceable}
  {#await import("../sources/SourcesBox.svelte") then { default: SourcesBox }}<SourcesBox {editor} {path} label={setting.label.en ?? ""} />{/await}
  {#if editor.sourced(path)}<p class="mb-1.5 text-sm font-medium">Typed in</p>{/if}
{/if}
<div
  role="group"
  aria-labelledby="{id}-label"
  aria-describedby={describedby}
  class={["rounded-lg", over && "outline-2 outline-offset-4 outline-teal"]}
  ondragover={(e) => {
    if (!takesFiles || !e.dataTransfer?.types.includes("Files")) return;
    e.preventDefault();
    over = true;
  }}
  ondragleave={() => (over = false)}
  ondrop={(e) => {
    over = false;
    const files = imagesOf(e.dataTransfer);
    if (!takesFiles || !files.length) return;
    e.preventDefault();
    void images(files);
  }}
>
  {#if sampling}<p class="mb-2 rounded-lg bg-sunk px-3 py-2 text-sm text-soft">Sample entries. Change one to make all of them your own, or type your first entry below.</p>{/if}
  <ol bind:this={list} class="mb-2 space-y-1.5">
    {#each shown as item, i (item.id)}
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
          {#each [["↑", "Move up", () => move(i, i - 1), i == 0], ["↓", "Move down", () => move(i, i + 1), i == items.length - 1], ["⧉", "Duplicate", () => copy(i), room < 1], ["✕", "Delete", () => remove(i), false]] as [sign, what, do_, off] (what)}
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
  {#if trouble}<p role="alert" class="mb-2 text-sm text-bad">{trouble}</p>{/if}
  <div class="flex items-center gap-2">
    {#if main}
      <EntryLine id={id} label={setting.label.en ?? ""} {fields} {main} {room} text={String(own.find((e) => e.id == written)?.[main.key] ?? "")} {write} end={() => (written = "")} {add} images={(files) => takesFiles && images(files)} />
    {/if}
    {#if takesFiles}
      <label class="inline-flex min-h-9 shrink-0 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-3 text-sm font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk">
        <input type="file" class="sr-only" accept="image/*" multiple disabled={room < 1} aria-label="{setting.label.en}: add images" onchange={(e) => images([...(e.currentTarget.files ?? [])])} />Images
      </label>
    {/if}
    <Button kind="plain" class="min-h-9 shrink-0 px-3 text-sm" id={main ? undefined : id} disabled={room < 1} onclick={addBlank} aria-label="Add a blank entry to {setting.label.en}">Add</Button>
  </div>
  {#if room < 1}<p class="mt-1.5 text-sm text-soft">The limit is {setting.maxItems}.</p>{/if}
  <p class="sr-only" role="status">{said}</p>
</div>
