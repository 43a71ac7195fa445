<script lang="ts">
  import { Tabs } from "bits-ui";
  import { flushSync, untrack } from "svelte";
  import GuestBar from "../guest/GuestBar.svelte";
  import SignUpBox from "../guest/SignUpBox.svelte";
  import Install from "../install/Install.svelte";
  import { Installing } from "../install/install.svelte";
  import OnPage from "../install/OnPage.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import State from "../pockets/State.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { PocketEditor } from "./editor.svelte";
  import { inWords, wallOf } from "./conditions";
  import Form from "./Form.svelte";
  import History from "./History.svelte";
  import Preview from "./preview/Preview.svelte";
  import { Flow } from "./publish/flow.svelte";
  import Publish from "./publish/Publish.svelte";
  import SamplesBox from "./publish/SamplesBox.svelte";
  import Saved from "./Saved.svelte";
  import Visitors from "./publish/Visitors.svelte";

  let { key, publicBase }: { key: string; publicBase: string } = $props();
  // svelte-ignore state_referenced_locally: the page creates an editor for each key
  const editor = new PocketEditor(key, publicBase);
  // svelte-ignore state_referenced_locally: the page creates an editor for each key
  const install = new Installing(key);
  const tab = $derived(router.step);
  const open = (step: string) => router.go(`/pockets/${encodeURIComponent(key)}${step == "set" ? "" : "/" + step}`);
  const flow = new Flow(editor, install, open);
  const load = () => editor.load().then(() => flow.load());
  void load();
  $effect(() => () => {
    editor.close();
    install.close();
  });
  editor.onopen = () => open("set");
  let signingUp = $state(false);

  // The pocket has moved to the new account: goes on with what was chosen before.
  async function signedUp(host = "") {
    signingUp = false;
    await load();
    try {
      await (await import("../sources/wish")).fulfil(editor);
    } catch (error) {
      flow.trouble = `The source could not be connected. ${(error as Error).message}`;
      host = "";
    }
    flow.wanted = "";
    if (host) await flow.publishFor(host);
    editor.notice = editor.notice || "You have an account now. Add the name of your business under Business when you like.";
  }

  const { draft, publishing, sight } = editor;
  const nextWords: Record<string, string> = { publish: "Scheduled for", restore: "Ends on", unpublish: "Unpublished on" };
  const shortForm = new Intl.DateTimeFormat("en-GB", { day: "numeric", month: "short", hour: "2-digit", minute: "2-digit", timeZone: "UTC" });
  const shortly = (moment: string) => shortForm.format(Date.parse(wallOf(moment) + "Z"));
  const live = $derived((editor.pocket?.publication ?? 0) > 0);

  // The main button: changes of a live pocket are published at once; a new one needs a host first,
  // which is the customer's last one.
  function publish() {
    if (live) void flow.publish();
    else if (flow.host && !session.guest && !flow.unfit(flow.host)) void flow.publishFor(flow.host.name);
    else choosePlace();
  }
  function choosePlace() {
    open("set");
    flushSync();
    editor.search = "";
    flushSync();
    editor.onpart("publish");
  }
  // What cannot be published leads to its field.
  $effect(() => {
    if (!publishing.trouble) return;
    const path = untrack(() => Object.keys(draft.faults)[0]);
    if (path) untrack(() => editor.go(path));
  });

  function leaving(event: BeforeUnloadEvent) {
    if (!draft.unsaved) return;
    void draft.save();
    event.preventDefault();
  }
  const typing = (at: EventTarget | null) => at instanceof HTMLElement && (at.isContentEditable || /^(input|textarea|select)$/.test(at.localName));
  function shortcut(event: KeyboardEvent) {
    const command = event.metaKey || event.ctrlKey;
    const key = event.key.toLowerCase();
    if (event.defaultPrevented || document.querySelector("[role=dialog]")) return;
    if (command && key == "s") void draft.save();
    else if (command && event.key == "Enter") publish();
    else if (command && key == "z" && !event.shiftKey) draft.undo();
    else if (command && (key == "y" || (key == "z" && event.shiftKey))) draft.redo();
    else if (event.key == "/" && !command && !typing(event.target)) {
      open("set");
      flushSync(); // at once, so that text typed right after "/" is not lost
      document.getElementById("find-setting")?.focus();
    } else if (event.key == "F2") sight.point(!sight.pointing);
    else if (event.key == "Escape" && sight.pointing) sight.point(false);
    else return;
    event.preventDefault();
  }
  sight.stage.onkey = (pressed) => {
    if (pressed == "Escape") sight.point(false);
    else if (pressed == "z") draft.undo();
    else draft.redo();
  };
  // Selecting a part shows its settings, whatever is open.
  const choose = sight.onchoose;
  sight.onchoose = (made) => {
    open("set");
    choose(made);
  };
  const look = "min-h-10 flex-1 border-b-2 border-transparent font-medium text-soft hover:text-ink data-[state=active]:border-teal data-[state=active]:text-ink";
</script>

<svelte:head><title>{editor.draft.about.title ?? "Pocket"} · Glass Pocket</title></svelte:head>
<svelte:window onbeforeunload={leaving} onkeydown={shortcut} onfocus={() => (draft.refresh(), publishing.refresh())} ononline={() => draft.save()} />

{#if editor.error}
  <Header />
  <Trouble error={editor.error} retry={load} />
{:else}
  <div class="flex min-h-full flex-col lg:h-full">
    <Header>
      {#if editor.pocket}
        <div class="min-w-0 flex-1 basis-32 sm:flex-none">
          <h1 class="truncate leading-tight font-semibold">{draft.about.title}</h1>
          <p class="truncate font-mono text-[13px] text-soft">{editor.pocket.key}</p>
        </div>
        <div class={["flex", editor.readonly && "hidden"]} role="group" aria-label="Steps">
          <button type="button" class="tool px-2" disabled={!draft.history.next} onclick={() => draft.undo()} aria-label="Undo{draft.history.next ? `: ${draft.history.next}` : ''}" title={draft.history.next ? `Undo: ${draft.history.next} (Ctrl+Z)` : "Nothing to undo"}>↶</button>
          <button type="button" class="tool px-2" disabled={!draft.history.nextAgain} onclick={() => draft.redo()} aria-label="Redo{draft.history.nextAgain ? `: ${draft.history.nextAgain}` : ''}" title={draft.history.nextAgain ? `Redo: ${draft.history.nextAgain} (Ctrl+Shift+Z)` : "Nothing to redo"}>↷</button>
        </div>
      {/if}
      {#snippet actions()}
        {#if editor.pocket}
          {#if !editor.readonly}<Saved {draft} />{/if}
          <span class="hidden text-sm md:inline"><State pocket={editor.pocket} />{#if publishing.waiting.length}{@const next = publishing.waiting[0]}<a href={`/pockets/${encodeURIComponent(key)}/history`} onclick={router.follow} class="ms-3 rounded underline underline-offset-4" title={inWords(next.moment)}>{nextWords[next.does]} {shortly(next.moment)}</a>{/if}</span>
          {#if live && session.edits}<button type="button" class="tool text-sm max-md:hidden" onclick={() => flow.copySteps()}>Copy link to steps</button>{/if}
          {#if session.guest || session.edits}
            <Button class="max-w-72" title="Ctrl+Enter" onpointerenter={() => publishing.prepare()} onfocus={() => publishing.prepare()} onclick={publish} disabled={publishing.busy || !!flow.busy || (live && !publishing.somethingNew) || editor.pocket.releaseless}>
              <span class="truncate">{live ? "Publish" : flow.host && !session.guest && !flow.unfit(flow.host) ? `Publish for ${flow.host.title}` : "Publish for…"}</span>
            </Button>
          {/if}
        {/if}
      {/snippet}
    </Header>
    {#if session.guest}<GuestBar signUp={() => (signingUp = true)} />{/if}
    {#if draft.trouble && draft.state != "away"}<p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">{draft.trouble}</p>{/if}
    <!-- Above the form, because it may be scrolled anywhere when somebody publishes. -->
    {#each [publishing.trouble, flow.trouble && { what: flow.trouble, hint: "" }] as trouble, i (i)}
      {#if trouble}
        <div role="alert" class="flex items-start justify-between gap-4 border-b border-line bg-sheet px-5 py-2.5">
          <p><span class="font-medium text-bad">{trouble.what}</span> <span class="text-soft">{trouble.hint}</span></p>
          <button type="button" class="shrink-0 rounded px-2 text-sm underline underline-offset-4" onclick={() => ((publishing.trouble = null), (flow.trouble = ""))}>Close</button>
        </div>
      {/if}
    {/each}
    {#if editor.pocket?.withheld}
      <p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">The operator withholds this pocket, so visitors do not see it.{editor.pocket.withheld.why ? ` Reason: ${editor.pocket.withheld.why}` : ""}</p>
    {/if}
    <div role="status">
      {#each [{ text: editor.notice, close: () => (editor.notice = "") }, { text: publishing.notice, close: () => (publishing.notice = "") }] as note, i (i)}
        {#if note.text}
          <div class="flex items-start justify-between gap-4 border-b border-line bg-wash px-5 py-2.5">
            <p class="min-w-0 flex-1 wrap-anywhere">{note.text}{#if i == 1}<Visitors {publishing} />{/if}</p>
            {#if i == 1 && publishing.undoable}
              <button type="button" class="shrink-0 rounded px-2 text-sm underline underline-offset-4" disabled={publishing.busy} onclick={() => publishing.undo()}>Undo publishing</button>
              {#if flow.place}<button type="button" class="shrink-0 rounded px-2 text-sm underline underline-offset-4" onclick={() => flow.copySteps()}>Copy link to steps</button>{/if}
            {/if}
            <button type="button" class="shrink-0 rounded px-2 text-sm underline underline-offset-4" onclick={note.close}>Close</button>
          </div>
        {/if}
      {/each}
    </div>
    {#if editor.pocket?.releaseless}<p role="status" class="border-b border-line bg-wash px-5 py-2.5">Every release of this widget has been withdrawn. You can edit and unpublish this pocket. You can publish it once a release is back in use.</p>{/if}
    {#if editor.readonly}<p class="border-b border-line bg-wash px-5 py-2.5">You can view this pocket but not change it. To change it, ask an editor of this account.</p>{/if}
    <p class="sr-only" role="status">{draft.said}</p>
    <main class="grid min-h-0 flex-1 grid-cols-1 {tab == 'install' ? 'lg:grid-cols-[480px_minmax(0,1fr)]' : 'lg:grid-cols-[400px_minmax(0,1fr)]'}">
      <div class="order-2 min-h-0 border-line bg-sheet lg:order-1 lg:border-e">
        {#if editor.widget}
          <Tabs.Root value={tab} onValueChange={open} class="flex h-full min-h-0 flex-col">
            <Tabs.List class="flex border-b border-line" aria-label="Pocket sections">
              <Tabs.Trigger value="set" class={look}>Edit</Tabs.Trigger>
              <Tabs.Trigger value="install" class={look}>Install</Tabs.Trigger>
              <Tabs.Trigger value="history" class={look}>History</Tabs.Trigger>
            </Tabs.List>
            <Tabs.Content value="set" class="relative min-h-0 flex-1 lg:overflow-y-auto"><Form {editor}>{#snippet publish()}<Publish {flow} ondone={signedUp} />{/snippet}</Form></Tabs.Content>
            <Tabs.Content value="install" class="relative min-h-0 flex-1 lg:overflow-y-auto"><Install {editor} {install} shown={tab == "install"} {choosePlace} /></Tabs.Content>
            <Tabs.Content value="history" class="relative min-h-0 flex-1 lg:overflow-y-auto"><History {editor} /></Tabs.Content>
          </Tabs.Root>
        {/if}
      </div>
      {#if tab == "install" && editor.pocket?.publication}
        <!-- On small screens the steps come first, and the preview last. -->
        <div class="order-3 h-[80vh] min-h-96 border-t border-line lg:order-2 lg:h-auto lg:min-h-0 lg:border-0"><OnPage {install} /></div>
      {:else}
        <div data-stays class="order-1 h-[42vh] min-h-72 border-b border-line max-lg:sticky max-lg:top-0 max-lg:z-20 lg:order-2 lg:h-auto lg:min-h-0 lg:border-0"><Preview {editor} /></div>
      {/if}
    </main>
  </div>
  {#if signingUp}<SignUpBox onclose={() => (signingUp = false)} ondone={() => signedUp()} />{/if}
  {#if flow.asking}<SamplesBox {flow} />{/if}
{/if}
