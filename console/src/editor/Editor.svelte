<script lang="ts">
  import { Tabs } from "bits-ui";
  import State from "../pockets/State.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { PocketEditor } from "./editor.svelte";
  import Form from "./Form.svelte";
  import History from "./History.svelte";
  import Preview from "./Preview.svelte";
  import Snippets from "./Snippets.svelte";
  import { Stage } from "./stage";

  let { key, publicBase }: { key: string; publicBase: string } = $props();
  // svelte-ignore state_referenced_locally: the page makes a new editor for each key
  const editor = new PocketEditor(key, publicBase, new Stage());
  editor.load();

  const saved: Record<string, string> = { saved: "Draft saved", waiting: "Saving…", saving: "Saving…", failed: "Not saved" };
  const nothingNew = $derived(editor.pocket?.state == "published" && editor.saving == "saved" && editor.follow == editor.pocket.follow);

  // A page closed in the half second before saving must not lose a change silently.
  function leaving(event: BeforeUnloadEvent) {
    if (editor.saving == "saved") return;
    editor.save();
    event.preventDefault();
  }
  function shortcut(event: KeyboardEvent) {
    if ((event.metaKey || event.ctrlKey) && event.key == "s") {
      event.preventDefault();
      editor.save();
    }
  }
  const tab = "min-h-10 flex-1 border-b-2 border-transparent font-medium text-soft hover:text-ink data-[state=active]:border-teal data-[state=active]:text-ink";
</script>

<svelte:head><title>{editor.pocket?.title ?? "Pocket"} · Glass Pocket</title></svelte:head>
<svelte:window onbeforeunload={leaving} onkeydown={shortcut} />

{#if editor.error}
  <Header />
  <Trouble error={editor.error} retry={() => editor.load()} />
{:else}
  <div class="flex min-h-full flex-col lg:h-full">
    <Header>
      {#if editor.pocket}
        <div class="min-w-0">
          <h1 class="truncate leading-tight font-semibold">{editor.pocket.title}</h1>
          <p class="truncate font-mono text-[13px] text-soft">{editor.pocket.key}</p>
        </div>
      {/if}
      {#snippet actions()}
        {#if editor.pocket}
          <span class="hidden text-sm text-soft sm:inline" role="status">{saved[editor.saving]}</span>
          <span class="text-sm"><State pocket={editor.pocket} /></span>
          <Button onclick={() => editor.publish()} disabled={editor.publishing || nothingNew}>{editor.publishing ? "Publishing…" : "Publish"}</Button>
        {/if}
      {/snippet}
    </Header>
    {#if editor.trouble}<p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">{editor.trouble}</p>{/if}
    {#if editor.pocket?.withheld}
      <p role="alert" class="border-b border-line bg-sheet px-5 py-2.5 text-bad">Withheld by the operator: visitors get nothing of this pocket.{editor.pocket.withheld.why ? ` Reason: ${editor.pocket.withheld.why}` : ""}</p>
    {/if}
    <div role="status">
      {#if editor.notice}
        <p class="flex items-center justify-between gap-4 border-b border-line bg-wash px-5 py-2.5">
          {editor.notice}
          <button type="button" class="rounded px-2 text-sm underline underline-offset-4" onclick={() => (editor.notice = "")}>Close</button>
        </p>
      {/if}
    </div>
    <main class="grid min-h-0 flex-1 grid-cols-1 lg:grid-cols-[400px_minmax(0,1fr)]">
      <div class="order-2 min-h-0 border-line bg-sheet lg:order-1 lg:border-e">
        {#if editor.widget}
          <Tabs.Root value="set" class="flex h-full min-h-0 flex-col">
            <Tabs.List class="flex border-b border-line" aria-label="What to do with this pocket">
              <Tabs.Trigger value="set" class={tab}>Set</Tabs.Trigger>
              <Tabs.Trigger value="install" class={tab}>Install</Tabs.Trigger>
              <Tabs.Trigger value="history" class={tab}>History</Tabs.Trigger>
            </Tabs.List>
            <Tabs.Content value="set" class="min-h-0 flex-1 overflow-y-auto"><Form {editor} /></Tabs.Content>
            <Tabs.Content value="install" class="min-h-0 flex-1 overflow-y-auto"><Snippets {editor} /></Tabs.Content>
            <Tabs.Content value="history" class="min-h-0 flex-1 overflow-y-auto"><History {editor} /></Tabs.Content>
          </Tabs.Root>
        {/if}
      </div>
      <div class="order-1 min-h-80 lg:order-2 lg:min-h-0"><Preview {editor} /></div>
    </main>
  </div>
{/if}
