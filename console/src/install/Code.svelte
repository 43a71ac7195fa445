<script lang="ts">
  // The exact text to paste, with buttons to copy, select or download it.
  import { whyNotCopied } from "./clipboard";
  import { copy as put } from "./copy";

  // rich is the same for editors that insert formatted content; pastes says which of the two the
  // host uses.
  // done: it is on the clipboard already; marked: it is to be selected, because copying was refused.
  let { text, label, file = "", rich = "", pastes = "", done = false, marked = false }: { text: string; label: string; file?: string; rich?: string; pastes?: string; done?: boolean; marked?: boolean } = $props();
  let copied = $state(false);
  let refused = $state("");
  let box: HTMLElement;

  async function copy() {
    refused = "";
    try {
      await put(text, rich);
      copied = true;
    } catch (error) {
      refused = `${whyNotCopied(error)} The code is selected: press Ctrl+C or ⌘C.`;
      mark();
    }
  }
  function mark() {
    getSelection()!.selectAllChildren(box);
    box.focus();
  }
  const address = $derived(URL.createObjectURL(new Blob([text], { type: "text/plain" })));
  $effect(() => {
    const mine = address;
    return () => URL.revokeObjectURL(mine);
  });
  $effect(() => {
    void text;
    copied = done;
    if (marked) mark();
  });
</script>

<div class="relative overflow-hidden rounded-lg border border-line bg-sunk print:border-black">
  <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
  <pre bind:this={box} class="max-h-72 overflow-auto p-3 font-mono text-[13px] leading-relaxed whitespace-pre-wrap wrap-anywhere print:max-h-none" tabindex="0" aria-label={label}>{text}</pre>
  <div class="flex items-center gap-1 border-t border-line bg-sheet px-1.5 py-1 print:hidden">
    <button type="button" class="inline-flex min-h-8 items-center rounded-md bg-teal px-4 text-sm font-medium text-on-teal hover:brightness-110" onclick={copy}>{copied ? "Copied" : "Copy"}</button>
    <button type="button" class="tool text-sm" onclick={mark}>Select all</button>
    <a class="tool inline-flex items-center text-sm" href={address} download={file || "snippet.txt"}>Download</a>
    <span class="sr-only" role="status">{copied ? "Copied." : ""}</span>
  </div>
</div>
{#if refused}<p role="alert" class="mt-1.5 text-sm text-bad">{refused}</p>{/if}
{#if rich}<p class="mt-1.5 text-sm text-soft print:hidden">{pastes == "rich" ? "Copy also includes formatted content, which this place needs." : "This place needs the code. In a visual editor, it becomes a link to the widget."}</p>{/if}
