<script lang="ts">
  import Button from "../ui/Button.svelte";
  import Segments from "../ui/Segments.svelte";
  import type { Publishing } from "./publishing.svelte";

  let { publishing }: { publishing: Publishing } = $props();
  const names: Record<string, string> = { script: "One paste", split: "Split", frame: "Frame" };
  let form = $state("script");
  let copied = $state("");
  const snippet = $derived(publishing.snippets.find((s) => s.form == form));

  async function copy(text: string) {
    await navigator.clipboard.writeText(text);
    copied = text;
  }
</script>

<div class="px-5 py-5">
  {#if publishing.snippets.length == 0}
    <p class="font-medium">Publish first.</p>
    <p class="mt-1 text-soft">A snippet needs something to show. It then never changes again: later publications travel behind it.</p>
  {:else}
    <Segments value={form} label="Delivery form" options={publishing.snippets.map((s) => ({ value: s.form, label: names[s.form] ?? s.form }))} onchange={(v) => (form = v)} />
    {#if snippet}
      <p class="mt-3 text-soft">{snippet.about}</p>
      {#each snippet.parts as part (part.where)}
        <div class="mt-5">
          <div class="mb-1.5 flex items-end justify-between gap-3">
            <p class="text-sm font-medium first-letter:uppercase">{part.where}</p>
            <Button kind="plain" class="min-h-8 shrink-0 px-3 text-sm" onclick={() => copy(part.text)}>{copied == part.text ? "Copied" : "Copy"}</Button>
          </div>
          <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
          <pre class="overflow-x-auto rounded-lg bg-sunk p-3.5 font-mono text-[13px] leading-relaxed whitespace-pre-wrap wrap-anywhere" tabindex="0" aria-label="Snippet, {part.where}">{part.text}</pre>
        </div>
      {/each}
    {/if}
  {/if}
  <p class="sr-only" role="status">{copied ? "Copied." : ""}</p>
</div>
