<script lang="ts">
  // Publishes at a set time, or for a limited time.
  import Button from "../../ui/Button.svelte";
  import { instant } from "../../ui/clocks";
  import Moment from "../../ui/Moment.svelte";
  import type { PocketEditor } from "../editor.svelte";

  let { editor }: { editor: PocketEditor } = $props();
  const publishing = $derived(editor.publishing);
  let later = $state(false);
  let ends = $state(false);
  let at = $state("");
  let back = $state("");
  // Why the times are invalid. The service checks them again with its own clock.
  let now = $state(Date.now());
  $effect(() => {
    const tick = setInterval(() => (now = Date.now()), 1000);
    return () => clearInterval(tick);
  });
  const past = "This time is in the past. Choose a time in the future.";
  const atWrong = $derived(later && instant(at) <= now ? past : "");
  const backWrong = $derived(!ends ? "" : instant(back) <= now ? past : later && instant(back) <= instant(at) ? "This is before the publication. Choose a later time." : "");

  async function publish() {
    if (await publishing.publish({ at: later ? at : "", back: ends ? back : "" })) later = ends = false;
  }
</script>

<details>
  <summary class="cursor-pointer rounded text-soft hover:text-ink">At a set time</summary>
  <div class="mt-3 space-y-2.5">
    <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" bind:checked={later} />Schedule for later</label>
    {#if later}<div class="ps-6.5"><Moment value={at} label="Publish at" zone={editor.zone} id="publish-at" onchange={(v) => (at = v)} onempty={() => (at = "")} invalid={!!atWrong} describedby="publish-at-wrong" /><p id="publish-at-wrong" role="status" class="text-sm text-bad">{atWrong}</p></div>{/if}
    <label class="flex items-center gap-2.5"><input type="checkbox" class="size-4 accent-teal" bind:checked={ends} />{publishing.pocket?.publication ? "Go back to the current live version later" : "Unpublish it later"}</label>
    {#if ends}<div class="ps-6.5"><Moment value={back} label="Go back at" zone={editor.zone} id="publish-back" onchange={(v) => (back = v)} onempty={() => (back = "")} invalid={!!backWrong} describedby="publish-back-wrong" /><p id="publish-back-wrong" role="status" class="text-sm text-bad">{backWrong}</p></div>{/if}
    {#if later || ends}<Button disabled={publishing.busy || (later && !at) || (ends && !back) || !!atWrong || !!backWrong} onclick={publish}>{publishing.busy ? "Publishing…" : later ? "Schedule" : "Publish now"}</Button>{/if}
  </div>
</details>
