<script lang="ts">
  // Selects an asset: the widget's, the customer's, or a new one from this computer.
  import { Dialog } from "bits-ui";
  import { explain } from "../../api/refused";
  import Button from "../../ui/Button.svelte";
  import { useEditor } from "../context";
  import { accepts, formats, most, upload, type Kind } from "./upload";

  let { kind, label, chosen, choose, words }: { kind: Kind; label: string; chosen: string; choose: (ref: string) => void; words: string } = $props();
  const editor = useEditor();
  let open = $state(false);
  let busy = $state("");
  let trouble = $state("");
  let leaving = $state<{ ref: string; name: string; uses: string[]; from: HTMLElement }>(); // the asset whose deletion is to be confirmed
  let bring: HTMLElement; // gets the focus afterwards
  const own = $derived(Object.entries(editor.widget?.images ?? {}).filter(([, p]) => p.kind == kind));
  const theirs = $derived(editor.library.assets.filter((a) => a.kind == kind));

  function select(ref: string) {
    choose(ref);
    open = false;
  }
  // Lists the pockets that use an asset before it is deleted.
  async function ask(ref: string, name: string, from: HTMLElement) {
    trouble = "";
    try {
      leaving = { ref, name, from, uses: ref == chosen ? [editor.key] : await editor.library.uses(ref) };
    } catch (error) {
      trouble = explain(error);
    }
  }
  function keep() {
    leaving?.from.focus();
    leaving = undefined;
  }
  async function remove(ref: string) {
    leaving = undefined;
    bring.focus();
    try {
      await editor.library.delete(ref);
    } catch (error) {
      trouble = explain(error);
    }
  }
  // Moves the focus to the question.
  const focusFirst = (at: HTMLElement) => at.querySelector<HTMLElement>("button, a")?.focus();
  async function take(files: FileList | null | undefined) {
    const file = files?.[0];
    if (!file) return;
    trouble = "";
    leaving = undefined;
    busy = file.name;
    const made = await upload(editor.library, file, kind);
    busy = "";
    if ("ref" in made) select(made.ref);
    else trouble = made.trouble;
  }
</script>

<Dialog.Root bind:open onOpenChange={(on) => {
    trouble = "";
    leaving = undefined;
    if (on) editor.library.load();
  }}
>
  <Dialog.Trigger type="button" class="inline-flex min-h-9 items-center rounded-lg border border-edge bg-sheet px-4 py-1.5 font-medium hover:bg-sunk">{words}</Dialog.Trigger>
  <Dialog.Portal>
    <Dialog.Overlay class="fixed inset-0 z-40 bg-black/45" />
    <Dialog.Content
      class="fixed z-50 inset-0 m-auto flex h-fit max-h-[85vh] w-[min(720px,calc(100vw-2rem))] flex-col rounded-2xl border border-line bg-paper shadow-2xl"
      ondragover={(e: DragEvent) => e.preventDefault()}
      ondrop={(e: DragEvent) => {
        e.preventDefault();
        take(e.dataTransfer?.files);
      }}
    >
      <div class="flex items-start justify-between gap-4 border-b border-line px-6 py-4">
        <div>
          <Dialog.Title class="text-lg font-semibold">{label}</Dialog.Title>
          <Dialog.Description class="text-sm text-soft">Choose an existing file, or upload one. You can also drop a file here.</Dialog.Description>
        </div>
        <Dialog.Close class="rounded px-2 py-1 text-soft hover:text-ink" aria-label="Close">✕</Dialog.Close>
      </div>
      <div class="min-h-0 flex-1 overflow-y-auto px-6 py-4">
        {#if trouble}<p role="alert" class="mb-3 text-bad">{trouble}</p>{/if}
        {#if own.length + theirs.length == 0}<p class="py-6 text-center text-soft">Empty.</p>{/if}
        {#each [["Customer's files", theirs.map((a) => [a.digest, a.name, a.address] as const), true], ["Widget's files", own.map(([path, p]) => [path, p.name, p.address] as const), false]] as const as [heading, list, removable] (heading)}
          {#if list.length}
            <h3 class="mb-2 text-[13px] font-semibold tracking-wide text-teal">{heading}</h3>
            <ul class="mb-5 grid grid-cols-[repeat(auto-fill,minmax(8.5rem,1fr))] gap-3">
              {#each list as [ref, name, address] (ref)}
                <li>
                  <button type="button" class={["block w-full rounded-lg border p-1.5 text-start hover:border-edge", ref == chosen ? "border-teal bg-wash" : "border-line bg-sheet"]} aria-pressed={ref == chosen} onclick={() => select(ref)}>
                    {#if kind == "image"}<img src={address} alt="" loading="lazy" class="aspect-[4/3] w-full rounded bg-sunk object-contain" />{/if}
                    <span class="mt-1 block truncate text-sm">{name}</span>
                  </button>
                  {#if removable}
                    <button type="button" class="mt-0.5 rounded px-1.5 text-[13px] text-soft underline underline-offset-4 hover:text-ink" aria-label="Delete {name}" onclick={(e) => ask(ref, name, e.currentTarget)}>Delete</button>
                  {/if}
                </li>
              {/each}
            </ul>
          {/if}
        {/each}
      </div>
      {#if leaving}
        {@const { ref, name, uses } = leaving}
        <div role="group" aria-label="Delete {name}" class="flex flex-wrap items-center gap-3 border-t border-line bg-sunk px-6 py-4" {@attach focusFirst}>
          {#if uses.length}
            <p class="min-w-0 flex-1" role="status">
              <strong class="font-semibold">{name} is used by
                {#each uses as key, i (key)}{i ? ", " : ""}{#if key == editor.key}this pocket{:else}<a href={`/pockets/${key}`} target="_blank" class="underline underline-offset-4">{key}</a>{/if}{/each}.</strong>
              To delete it, choose another file there and publish.
            </p>
            <Button kind="plain" onclick={keep}>Cancel</Button>
          {:else}
            <p class="min-w-0 flex-1"><strong class="font-semibold">Delete {name}?</strong> No pocket uses it. To use it again, you would have to upload it again.</p>
            <Button kind="plain" onclick={keep}>Cancel</Button>
            <Button kind="grave" onclick={() => remove(ref)}>Delete</Button>
          {/if}
        </div>
      {/if}
      <div class="flex items-center gap-3 border-t border-line px-6 py-4">
        <label class={["inline-flex min-h-9 cursor-pointer items-center rounded-lg bg-teal px-4 py-1.5 font-medium text-on-teal focus-within:outline-2 focus-within:outline-offset-2 focus-within:outline-teal", busy && "pointer-events-none opacity-60"]}>
          <input bind:this={bring} type="file" class="sr-only" accept={accepts[kind]} onchange={(e) => take(e.currentTarget.files)} />
          {busy ? `Uploading ${busy}…` : "Upload a file"}
        </label>
        <span class="text-sm text-soft">{formats[kind]}, at most {most[kind]} MB.</span>
      </div>
      <p class="sr-only" role="status">{busy ? `Uploading ${busy}` : ""}</p>
    </Dialog.Content>
  </Dialog.Portal>
</Dialog.Root>
