<script lang="ts">
  // Entries of the audit, the newest first: who changed what, and when.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Entry } from "../api/types";
  import { session } from "../session/session.svelte";
  import { ago, exactly } from "../ui/time";

  // which limits the audit to a pocket, or to a customer.
  let { which, said = (e) => e.sentence }: { which: Record<string, string>; said?: (e: Entry) => string } = $props();
  let entries = $state.raw<Entry[]>([]);
  let next = $state("");
  let loaded = $state(false);
  let trouble = $state("");

  async function load(more = false) {
    trouble = "";
    try {
      const page = await api.audit(which, more ? next : "");
      entries = more ? [...entries, ...page.entries] : page.entries;
      next = page.next ?? "";
      loaded = true;
    } catch (error) {
      session.expire(error);
      trouble = explain(error);
    }
  }
  $effect(() => void load());
</script>

<ol>
  {#each entries as e (e.id)}
    <li class="flex flex-wrap items-baseline gap-x-2 border-b border-line py-2 text-sm last:border-0">
      <span class="min-w-0 wrap-anywhere"><span class="font-medium">{e.by}</span> {said(e)}</span>
      <span class="ms-auto whitespace-nowrap text-soft max-sm:ms-0" title={exactly(e.at)}>{ago(e.at)}</span>
    </li>
  {/each}
</ol>
{#if loaded && entries.length == 0}<p class="text-soft">There are no changes yet.</p>{/if}
{#if trouble}
  <p role="alert" class="mt-2 text-bad">{trouble} <button type="button" class="rounded underline underline-offset-4" onclick={() => load(entries.length > 0)}>Try again</button></p>
{:else if next}
  <button type="button" class="mt-2 rounded text-sm underline underline-offset-4" onclick={() => load(true)}>Show older</button>
{/if}
