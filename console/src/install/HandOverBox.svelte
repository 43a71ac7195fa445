<script lang="ts">
  // Creates, lists and revokes pages with the steps for the customer's webmaster.
  import { explain } from "../api/refused";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import { ago } from "../ui/time";
  import type { Installing } from "./install.svelte";

  let { install, onclose }: { install: Installing; onclose: () => void } = $props();
  let note = $state("");
  let trouble = $state("");
  let busy = $state(false);
  let copied = $state(false);
  // svelte-ignore state_referenced_locally: the dialog is for one pocket
  install.loadHandovers().catch((error) => (trouble = explain(error)));
  const title = (name: string) => install.hosts.find((h) => h.name == name)?.title ?? name;

  async function make() {
    if (install.made) return onclose();
    busy = true;
    trouble = "";
    try {
      await install.handOver(note.trim());
    } catch (error) {
      trouble = explain(error);
    }
    busy = false;
  }
  async function copy() {
    await navigator.clipboard.writeText(install.made!.link!);
    copied = true;
  }
  const revoke = (id: number) => install.revokeHandover(id).catch((error) => (trouble = explain(error)));
</script>

<Box title="Hand over to a webmaster" about="A page with these steps that opens without an account. You can print it, and revoke it at any time." {onclose} onsubmit={make}>
  {#if install.made}
    <p class="mb-1 font-medium">Link (shown only once)</p>
    <p class="rounded-lg bg-sunk p-3 font-mono text-[13px] wrap-anywhere">{install.made.link}</p>
    <Button class="mt-3" onclick={copy}>{copied ? "Copied" : "Copy link"}</Button>
    <p class="sr-only" role="status">{copied ? "Copied." : ""}</p>
  {:else}
    <p class="mb-3">For <span class="font-medium">{install.host?.title}</span>, {install.words[install.wish.where]}: {install.guided?.guide?.offer.title.toLowerCase()}.</p>
    <label class="mb-1 block font-medium" for="handover-note">Note</label>
    <textarea id="handover-note" class="field" rows="3" maxlength="500" placeholder="Above the calendar, please." bind:value={note}></textarea>
  {/if}
  {#if install.handovers.length}
    <h3 class="mt-6 mb-1 font-medium">Handovers of this pocket</h3>
    <ul class="divide-y divide-line rounded-lg border border-line bg-sheet">
      {#each install.handovers as h (h.id)}
        <li class="flex flex-wrap items-baseline justify-between gap-x-4 px-3.5 py-2.5">
          <div class="min-w-0"><span class="block">{title(h.install.host)}, {install.words[h.install.where ?? ""]}</span><span class="text-sm text-soft">Made {ago(h.createdAt)} by {h.by} · {h.seenAt ? `opened ${ago(h.seenAt)}` : "not opened yet"}</span></div>
          <button type="button" class="rounded text-sm text-bad underline underline-offset-4" onclick={() => revoke(h.id)}>Revoke</button>
        </li>
      {/each}
    </ul>
  {/if}
  {#if trouble}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
  {#snippet actions()}
    {#if install.made}<Button type="submit">Close</Button>{:else}
      <Button kind="plain" onclick={onclose}>Cancel</Button>
      <Button type="submit" disabled={busy}>Make page</Button>
    {/if}
  {/snippet}
</Box>
