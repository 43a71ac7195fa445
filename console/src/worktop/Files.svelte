<script lang="ts">
  // The editor for whole files.
  import { session } from "../session/session.svelte";
  import { nameFrom } from "./name";
  import { base64Of } from "./start.svelte";
  import Code from "./code/Code.svelte";
  import type { Worktop } from "./worktop.svelte";

  let { worktop, file = $bindable(), at }: { worktop: Worktop; file: string; at: { line: number; column: number; turn: number } | null } = $props();
  const folder = $derived(worktop.folder);
  const bad = $derived(new Set(worktop.faults.filter((f) => !f.warning).map((f) => f.path)));
  const mark = $derived((worktop.previews.elementsOf, worktop.previews.elements));
  const first = ["view.html", "style.css", "mount.ts", "mount.js", "settings.json", "widget.json", "sample.json"];
  const order = (path: string) => (first.includes(path) ? first.indexOf(path) : first.length);
  const paths = $derived([...folder.paths].sort((a, b) => order(a) - order(b) || (a < b ? -1 : 1)));

  let adding = $state(false);
  let name = $state("");
  const form = /^(messages|starters)\/[a-z][\w-]*\.json$|^[\w-]+\.(ts|js|json|css|html|md)$/;
  const wrong = $derived(!name ? "" : folder.has(name) ? "This file already exists." : !form.test(name) ? "Use a name such as helper.ts, messages/de.json or starters/evening.json." : "");

  function add() {
    if (!name || wrong) return;
    folder.change(`adding ${name}`, { [name]: name.endsWith(".json") ? "{}\n" : "" });
    file = name;
    adding = false;
    name = "";
  }

  async function bring(list: FileList | null) {
    const files: { path: string; base64: string }[] = [];
    for (const f of list ?? []) {
      const ending = (/\.([a-z0-9]+)$/i.exec(f.name)?.[1] ?? "").toLowerCase();
      files.push({ path: `assets/${nameFrom(f.name.replace(/\.[^.]*$/, ""))}.${ending}`, base64: await base64Of(f) });
    }
    if (files.length) await worktop.upload(files);
    if (files[0] && folder.has(files[0].path)) file = files[0].path;
  }

  // Outlines the innermost element at the cursor in the preview.
  function select(from: number) {
    if (file != "view.html" || folder.text("view.html") != worktop.previews.elementsOf) return;
    let best = -1;
    mark.forEach((e, i) => {
      if (e.start <= from && from <= e.end) best = i;
    });
    worktop.previews.outline(best < 0 ? null : best);
  }
</script>

<div class="grid h-full min-h-96 grid-cols-1 grid-rows-[auto_minmax(0,1fr)] sm:grid-cols-[160px_minmax(0,1fr)] sm:grid-rows-1">
  <nav aria-label="Files" class="overflow-auto border-line py-2 max-sm:max-h-44 max-sm:border-b sm:border-e">
    <ul>
      {#each paths as path (path)}
        <li>
          <button
            type="button"
            aria-current={path == file ? "true" : undefined}
            class="flex w-full items-center gap-1.5 px-3 py-1 text-start font-mono text-[13px] break-words text-soft hover:text-ink aria-[current]:bg-wash aria-[current]:text-ink"
            onclick={() => (file = path)}
            ><span class="min-w-0">{path.slice(0, path.lastIndexOf("/") + 1)}<wbr />{path.slice(path.lastIndexOf("/") + 1)}</span>{#if folder.entries[path].text != folder.entries[path].saved}<span class="size-1.5 shrink-0 rounded-full bg-edge" title="not saved yet"></span>{/if}{#if bad.has(path)}<span class="ms-auto shrink-0 text-bad" title="something is wrong here">!</span>{/if}</button
          >
        </li>
      {/each}
    </ul>
    <div class="mt-3 space-y-1 border-t border-line px-3 pt-3 text-sm">
      {#if adding}
        <form
          onsubmit={(e) => {
            e.preventDefault();
            add();
          }}
        >
          <!-- svelte-ignore a11y_autofocus: the user has just opened it -->
          <input class="field px-2! font-mono text-[13px]" bind:value={name} aria-label="Name of the new file" aria-invalid={!!wrong} autofocus onkeydown={(e) => e.key == "Escape" && (adding = false)} />
          {#if wrong}<p class="mt-1 text-[13px] text-bad">{wrong}</p>{/if}
        </form>
      {:else}
        <button type="button" class="block rounded text-teal underline-offset-4 hover:underline" onclick={() => (adding = true)}>New file</button>
      {/if}
      <label class="block w-fit cursor-pointer rounded text-teal underline-offset-4 focus-within:outline-2 focus-within:outline-teal hover:underline"
        ><input type="file" class="sr-only" multiple accept="image/*,audio/*,.woff2,.woff,.ttf,.otf" onchange={(e) => bring(e.currentTarget.files)} />Add an asset</label
      >
      {#if !session.who?.folder}<button type="button" class="block rounded text-teal underline-offset-4 hover:underline" onclick={() => worktop.download()}>Download as ZIP</button>{/if}
      {#if folder.has(file) && !["widget.json", "settings.json", "view.html"].includes(file)}
        <button type="button" class="block rounded text-bad underline-offset-4 hover:underline" onclick={() => (folder.change(`deleting ${file}`, { [file]: null }), (file = "view.html"))}>Delete {file.split("/").pop()}</button>
      {/if}
    </div>
  </nav>
  <div class="min-h-0 min-w-0">
    {#if !folder.has(file)}
      <p class="p-6 text-soft">{file} does not exist. Choose another file.</p>
    {:else if folder.entries[file].binary}
      <div class="p-6 text-soft">
        {#if folder.entries[file].image?.kind == "image"}<img src={folder.entries[file].image?.address} alt="" class="mb-4 max-h-64 max-w-full rounded-lg border border-line" />{/if}
        <p class="font-mono text-sm">{file}</p>
      </div>
    {:else}
      {#key file}
        <Code {folder} path={file} faults={worktop.faults} vocabulary={worktop.vocabulary} tall undo={() => worktop.undo()} redo={() => worktop.redo()} onselect={select} onsetting={(...where) => worktop.makeSetting(...where)} {at} />
      {/key}
    {/if}
  </div>
</div>
