<script lang="ts">
  // The steps, in the console and on a webmaster's page.
  import type { Guide } from "../api/types";
  import Code from "./Code.svelte";

  // copied and marked: the text that is on the clipboard, or to be selected.
  let { guide, copied = "", marked = "" }: { guide: Guide; copied?: string; marked?: string } = $props();
  const image = (file: string) => `/api/v1/hosts/${encodeURIComponent(guide.host)}/images/${encodeURIComponent(file)}`;
</script>

<ol class="space-y-4">
  {#each guide.steps as step, i (i)}
    {#if step.place}<li class="list-none pt-2 font-semibold">{step.place}</li>{/if}
    <li class="grid grid-cols-[1.75rem_minmax(0,1fr)] gap-x-2.5 break-inside-avoid">
      <span class="grid size-7 place-items-center rounded-full bg-wash text-sm font-semibold tabular-nums print:border print:border-black" aria-hidden="true">{i + 1}</span>
      <div class="min-w-0 pt-0.5">
        <p>{step.say}</p>
        {#if step.part !== undefined}
          {@const part = guide.parts[step.part]}
          <div class="mt-2"><Code text={part.text} label="Code to paste, {part.where}" file={part.file} rich={part.rich} pastes={guide.pastes} done={!!copied && copied == part.text} marked={!!marked && marked == part.text} /></div>
        {/if}
        {#if step.after}<p class="mt-2">{step.after}</p>{/if}
        {#if step.image}<img class="mt-2 max-w-full rounded-lg border border-line" src={image(step.image)} alt={step.alt} />{/if}
      </div>
    </li>
  {/each}
</ol>
{#if guide.facts}
  <section class="mt-6 break-inside-avoid" aria-labelledby="facts-heading">
    <h3 id="facts-heading" class="mb-2 font-semibold">If your page knows its visitors</h3>
    <p class="mb-2">Your page can state these facts in attributes of an element around the widget. The page's template or script sets the values. They never leave the page.</p>
    <Code text={guide.facts.example} label="Element that states the facts" />
    <dl class="mt-2 text-sm">
      {#each guide.facts.facts as fact (fact.attribute)}<div class="flex flex-wrap gap-x-2"><dt class="font-mono">{fact.attribute}</dt><dd class="text-soft">{fact.label}</dd></div>{/each}
    </dl>
  </section>
{/if}
<p class="mt-6 rounded-lg bg-wash px-3.5 py-2.5 print:bg-white print:px-0"><span class="font-medium">Before you publish:</span> {guide.editor}</p>
<h3 class="mt-7 mb-2 font-semibold">Check the result</h3>
<ul class="list-disc space-y-1.5 ps-5">
  {#each guide.look as line, i (i)}<li>{line}</li>{/each}
</ul>
<h3 class="mt-7 mb-2 font-semibold">If something is wrong</h3>
<dl class="divide-y divide-line rounded-lg border border-line">
  {#each guide.if as pit, i (i)}
    <div class="break-inside-avoid px-3.5 py-2.5">
      <dt class="font-medium">{pit.see}</dt>
      <dd class="text-soft">{pit.because} <span class="text-ink">{pit.do}</span></dd>
    </div>
  {/each}
</dl>
