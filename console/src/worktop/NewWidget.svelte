<script lang="ts">
  // Creates a widget: from an HTML page, as a copy, or blank.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Widget } from "../api/types";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Segments from "../ui/Segments.svelte";
  import { pieceLabels, type Piece } from "./pieces-of-page";
  import { nameFrom } from "./name";
  import { base64Of, PageIntake } from "./start.svelte";
  import Imported from "./Imported.svelte";

  let way = $state("page");
  let title = $state("");
  let name = $state("");
  let named = $state(false); // whether the user has typed the name
  let from = $state("");
  let widgets = $state.raw<Widget[]>([]);
  let trouble = $state("");
  let busy = $state(false);
  let folderName = $state(""); // the name in the folder's manifest
  const copied = $derived(`Copy of ${widgets.find((w) => w.name == from)?.title.en ?? from}`);
  const intake = new PageIntake(() => said);
  // A suggested name is not in use yet.
  let taken = $state.raw<Set<string>>(new Set());
  const free = (name: string) => {
    for (let n = 1; ; n++) {
      const next = n == 1 ? name : `${name.slice(0, 37)}-${n}`;
      if (!taken.has(next)) return next;
    }
  };
  const said: string = $derived(named ? name : suggested(title || (way == "page" ? (intake.taken?.title ?? "") : way == "copy" && from ? `${from} copy` : way == "folder" ? folderName : "")));

  function suggested(words: string): string {
    return words.trim() ? free(nameFrom(words)) : "";
  }

  Promise.all([api.widgets(), api.widgetDrafts()]).then(
    ([w, d]) => {
      widgets = w.widgets;
      from = w.widgets[0]?.name ?? "";
      taken = new Set([...w.widgets.map((each) => each.name), ...(w.releaseless ?? []), ...d.drafts.map((each) => each.widget)]);
    },
    (error) => session.expire(error),
  );

  // Files of a drop or a choice: each by its ending.
  const endings: Record<string, Piece> = { html: "html", htm: "html", css: "css", js: "js", mjs: "js" };
  async function read(files: Iterable<File> | null | undefined) {
    for (const file of files ?? []) {
      const piece = endings[file.name.split(".").pop()!.toLowerCase()];
      if (piece) await intake.add(await file.text(), piece);
      else intake.trouble = `${file.name} is not an HTML, CSS or JavaScript file.`;
    }
  }
  let typed = $state("");
  function paste(event: ClipboardEvent) {
    const text = event.clipboardData?.getData("text/plain") ?? "";
    if (typed.trim() || !text.trim()) return;
    event.preventDefault();
    void intake.add(text);
  }
  // After the last piece, Enter accepts what is proposed.
  function accept(event: KeyboardEvent) {
    if (event.key != "Enter" || event.shiftKey || typed.trim() || !intake.taken || intake.busy) return;
    event.preventDefault();
    void start();
  }
  const given = $derived((Object.keys(intake.pieces) as Piece[]).filter((p) => intake.pieces[p].trim()));
  const focus = (at: HTMLElement) => at.focus();

  // A widget folder on this computer, as the client makes them.
  let folder = $state.raw<File[]>([]);
  async function choose(files: FileList | null) {
    trouble = "";
    folder = [...(files ?? [])].filter((f) => !f.webkitRelativePath.split("/").some((part) => part.startsWith(".") || part == "node_modules"));
    const manifest = folder.find((f) => f.webkitRelativePath.split("/").slice(1).join("/") == "widget.json");
    if (!manifest) trouble = "It does not contain widget.json. Choose the widget's own folder.";
    else
      try {
        folderName = String(JSON.parse(await manifest.text()).name ?? "");
      } catch {
        trouble = "Its widget.json cannot be read. Correct it on the worktop.";
      }
  }
  async function start() {
    trouble = "";
    busy = true;
    try {
      if (way == "page") {
        await intake.read(); // with its name
        if (!intake.taken) return;
        const files = intake.files();
        if (typeof files == "string") return void (trouble = files);
        await api.startWidgetDraft(said, { files });
      } else if (way == "folder") {
        const files = await Promise.all(folder.map(async (f) => ({ path: f.webkitRelativePath.split("/").slice(1).join("/"), base64: await base64Of(f) })));
        await api.startWidgetDraft(said, { files });
      } else await api.startWidgetDraft(said, way == "blank" ? { blank: true, title: title || said } : { from, title: title.trim() || copied });
      router.go(`/worktop/${said}`);
    } catch (error) {
      session.expire(error);
      trouble = explain(error);
    } finally {
      busy = false;
    }
  }
</script>

<svelte:head><title>New widget · Glass Pocket</title></svelte:head>
<Header />
<main class="mx-auto max-w-5xl px-5 py-10">
  <p class="text-sm text-soft"><a href="/worktop" onclick={router.follow} class="underline-offset-4 hover:underline">Worktop</a></p>
  <h1 class="text-2xl font-semibold tracking-tight">New widget</h1>
  <div class="mt-5 max-w-xl">
    <Segments
      value={way}
      label="Start from"
      pairs
      options={[
        { value: "page", label: "HTML, CSS, JavaScript" },
        { value: "copy", label: "A copy of a widget" },
        { value: "folder", label: "A folder" },
        { value: "blank", label: "Blank" },
      ]}
      onchange={(v) => (way = v)}
    />
  </div>

  {#if way == "page"}
    <form
      class="mt-5"
      aria-label="Source"
      onsubmit={(e) => {
        e.preventDefault();
        const text = typed;
        typed = "";
        void intake.add(text);
      }}
      ondragover={(e) => e.preventDefault()}
      ondrop={(e) => {
        e.preventDefault();
        void read(e.dataTransfer?.files);
      }}
    >
      <label class="block">
        <span class="mb-1 block font-medium">{intake.taken ? "Add CSS or JavaScript, or replace the HTML" : "Source"}</span>
        <textarea class={["field font-mono text-[13px]", given.length ? "min-h-16" : "min-h-64"]} spellcheck="false" bind:value={typed} onpaste={paste} onkeydown={accept} placeholder={given.length ? "Paste another piece" : "Paste a page, or HTML, CSS and JavaScript one after the other"} aria-describedby="source-about" {@attach focus}></textarea>
      </label>
      <p id="source-about" class="mt-1 text-sm text-soft">You can also drop files here. Nothing is loaded or run.</p>
      {#if given.length}
        <ul class="mt-2 flex flex-wrap gap-2" aria-label="Pasted pieces">
          {#each given as piece (piece)}
            <li class="flex items-center gap-1 rounded-full border border-edge bg-sheet ps-3 text-sm">{pieceLabels[piece]} <span class="text-soft">{Math.ceil(intake.pieces[piece].length / 102.4) / 10} KB</span><button type="button" class="grid size-8 place-items-center rounded-full text-soft hover:text-ink" aria-label="Remove {pieceLabels[piece]}" onclick={() => intake.remove(piece)}>✕</button></li>
          {/each}
        </ul>
        {#if !intake.taken && !intake.pieces.html.trim()}<p class="mt-2 text-soft" role="status">Now paste the HTML.</p>{/if}
      {/if}
      {#if intake.trouble}<p role="alert" class="mt-3 text-bad">{intake.trouble}</p>{/if}
      <div class="mt-3 flex flex-wrap gap-3">
        {#if typed.trim()}<Button type="submit" disabled={intake.busy}>{intake.busy ? "Importing…" : "Import"}</Button>{/if}
        <label class="inline-flex min-h-9 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-4 py-1.5 font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk">
          <input type="file" class="sr-only" accept=".html,.htm,.css,.js,text/html" multiple onchange={(e) => read(e.currentTarget.files)} />Choose files
        </label>
      </div>
    </form>
    {#if intake.taken}
      <Imported {intake}>{@render naming()}</Imported>
    {/if}
  {:else if way == "copy"}
    <label class="mt-5 block max-w-xl">
      <span class="mb-1 block font-medium">Widget</span>
      <select class="field" bind:value={from}>
        {#each widgets as w (w.name)}<option value={w.name}>{w.title.en ?? w.name}</option>{/each}
      </select>
      <span class="mt-1 block text-sm text-soft">You can change the copy freely, and merge later changes of the original.</span>
    </label>
  {/if}

  {#if way == "folder"}
    <label class="mt-5 inline-flex min-h-9 cursor-pointer items-center rounded-lg border border-edge bg-sheet px-4 py-1.5 font-medium focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal hover:bg-sunk">
      <input type="file" class="sr-only" webkitdirectory onchange={(e) => choose(e.currentTarget.files)} />Choose a folder
    </label>
    <p class="mt-2 text-sm text-soft">{folder.length ? (folder.length == 1 ? "1 file." : `${folder.length} files.`) : "A folder with widget.json. Or use the client: glasspocket send DIR"}</p>
  {/if}
  {#if way != "page" && (way != "folder" || folder.length)}<div class="mt-6">{@render naming()}</div>{/if}
</main>

{#snippet naming()}
    <form
      class="max-w-xl"
      onsubmit={(e) => {
        e.preventDefault();
        void start();
      }}
    >
      {#if way == "blank" || way == "copy"}
        <label class="mb-4 block">
          <span class="mb-1 block font-medium">Title</span>
          <input class="field" bind:value={title} maxlength="80" placeholder={way == "copy" ? copied : ""} required={way == "blank"} />
          {#if way == "copy"}<span class="mt-1 block text-sm text-soft">The same in every language. You can translate it in widget.json.</span>{/if}
        </label>
      {/if}
      <label class="block">
        <span class="mb-1 block font-medium">Name</span>
        <input
          class="field font-mono"
          value={said}
          oninput={(e) => {
            named = true;
            name = e.currentTarget.value;
          }}
          spellcheck="false"
          pattern="[a-z][a-z0-9\-]{'{0,39}'}"
          required
        />
        <span class="mt-1 block text-sm text-soft">Permanent. Use lower-case letters, digits and hyphens.</span>
      </label>
      {#if trouble}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
      <div class="mt-4"><Button type="submit" disabled={busy || (way == "copy" && !from)}>{busy ? "Making…" : "Make widget"}</Button></div>
    </form>
{/snippet}
