<script lang="ts">
  // Shows what publishing would change: setting by setting, and as previews. Publishes now or at a
  // set time, and shows the snippet the first time.
  import { copy as put } from "../../install/copy";
  import Box from "../../ui/Box.svelte";
  import Button from "../../ui/Button.svelte";
  import { instant } from "../../ui/clocks";
  import Moment from "../../ui/Moment.svelte";
  import type { PocketEditor } from "../editor.svelte";
  import Changes from "./Changes.svelte";
  import Rendering from "./Rendering.svelte";
  import Visitors from "./Visitors.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const publishing = $derived(editor.publishing);
  let later = $state(false);
  let ends = $state(false);
  let at = $state("");
  let back = $state("");
  let copied = $state(false);
  const first = $derived(publishing.pocket?.newest == 0);
  const snippet = $derived(publishing.snippets.find((s) => s.delivery == "script"));
  let wasFirst = $state(false);

  function publish() {
    if (publishing.done) return close();
    wasFirst = first;
    void publishing.publish({ at: later ? at : "", back: ends ? back : "" });
  }
  const close = () => (publishing.asking = false);
  async function copy() {
    await put(snippet!.parts.map((p) => p.text).join("\n"), snippet!.parts.map((p) => p.rich ?? "").join(""));
    copied = true;
  }
  // Why the times are invalid. The service checks them again with its own clock.
  let now = $state(Date.now());
  $effect(() => {
    const tick = setInterval(() => (now = Date.now()), 1000);
    return () => clearInterval(tick);
  });
  const past = "This time is in the past. Choose a time in the future.";
  const atWrong = $derived(later && instant(at) <= now ? past : "");
  const backWrong = $derived(!ends ? "" : instant(back) <= now ? past : later && instant(back) <= instant(at) ? "This is before the publication. Choose a later time." : "");
  const about = $derived(publishing.done ? "" : first ? "It is not published yet." : publishing.pocket?.publication ? `The live version is number ${publishing.pocket.publication}.` : "It is unpublished at the moment.");
</script>

<Box title={publishing.done ? `Number ${publishing.done.number} is live` : first ? "Publish for the first time" : "Publish"} {about} wide onclose={close} onsubmit={publish}>
  {#if publishing.trouble}
    <div role="alert" class="mb-4"><p class="font-medium text-bad">{publishing.trouble.what}</p><p class="text-soft">{publishing.trouble.hint}</p></div>
  {/if}
  {#if publishing.done}
    <p role="status">{publishing.notice}<Visitors {publishing} /></p>
    {#if snippet}
      <div class="mt-5">
        <p class="font-medium">{wasFirst ? "Next, paste this code into your page" : "The snippet has not changed"}</p>
        <p class="mb-2 text-sm text-soft">{snippet.about}</p>
        {#each snippet.parts as part (part.where)}
          <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
          <pre class="overflow-x-auto rounded-lg bg-sunk p-3.5 font-mono text-[13px] leading-relaxed whitespace-pre-wrap wrap-anywhere" tabindex="0" aria-label="Snippet">{part.text}</pre>
        {/each}
      </div>
    {/if}
  {:else if publishing.differences}
    {#if !first}
      <Changes changes={publishing.differences.changes} empty={publishing.pocket?.publication ? "Visitors already see this draft." : "Nothing has changed since then."} />
    {:else}
      <p class="text-soft">Once published, it shows on every page with its snippet. The snippet never changes, however often you publish.</p>
    {/if}
    <div class="mt-5 grid gap-4 sm:auto-cols-fr sm:grid-flow-col">
      {#if publishing.before}<Rendering publicBase={editor.publicBase} label="Before" payload={publishing.before} />{/if}
      {#if publishing.after}<Rendering publicBase={editor.publicBase} label={publishing.before ? "After" : "Preview"} payload={publishing.after} />{/if}
    </div>
    <div class="mt-5 space-y-2.5 border-t border-line pt-4">
      <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" bind:checked={later} />Schedule for later</label>
      {#if later}<div class="ps-6.5"><Moment value={at} label="Publish at" zone={editor.zone} id="publish-at" onchange={(v) => (at = v)} onempty={() => (at = "")} invalid={!!atWrong} describedby="publish-at-wrong" /><p id="publish-at-wrong" role="status" class="text-sm text-bad">{atWrong}</p></div>{/if}
      <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" bind:checked={ends} />{publishing.pocket?.publication ? "Go back to the current live version later" : "Unpublish it later"}</label>
      {#if ends}<div class="ps-6.5"><Moment value={back} label="Go back at" zone={editor.zone} id="publish-back" onchange={(v) => (back = v)} onempty={() => (back = "")} invalid={!!backWrong} describedby="publish-back-wrong" /><p id="publish-back-wrong" role="status" class="text-sm text-bad">{backWrong}</p></div>{/if}
    </div>
  {:else if !publishing.trouble}
    <p class="py-6 text-center text-soft" role="status">Comparing…</p>
  {/if}
  {#snippet actions()}
    {#if publishing.done}
      {#if snippet}<Button kind={wasFirst ? "main" : "plain"} onclick={copy}>{copied ? "Copied" : "Copy snippet"}</Button>{/if}
      <Button type="submit" kind={wasFirst ? "plain" : "main"}>Close</Button>
    {:else}
      <Button kind="plain" onclick={close}>Cancel</Button>
      <Button type="submit" disabled={publishing.busy || !publishing.differences || (later && !at) || (ends && !back) || !!atWrong || !!backWrong}>{publishing.busy ? "Publishing…" : later ? "Schedule" : "Publish now"}</Button>
    {/if}
  {/snippet}
</Box>
