<script lang="ts">
  // A customer's sources: their state, and what uses them.
  import { sources as api } from "../api/sources";
  import { explain } from "../api/refused";
  import type { Source } from "../api/types";
  import { session } from "../session/session.svelte";
  import Button from "../ui/Button.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import { ago, exactly } from "../ui/time";
  import ConnectBox from "./ConnectBox.svelte";
  import Details from "./Details.svelte";
  import { count, lasting } from "./words";

  let { customer }: { customer: string } = $props();
  let list = $state.raw<Source[] | null>(null);
  let error = $state<Error | null>(null);
  let connecting = $state(false);
  let open = $state("");
  let said = $state("");
  let busy = $state("");

  async function load() {
    error = null;
    try {
      list = await api.list(customer);
    } catch (e) {
      session.expire(e);
      error = e as Error;
    }
  }
  void load();
  const put = (s: Source) => (list = list!.map((has) => (has.id == s.id ? s : has)));
  async function refresh(s: Source) {
    busy = s.id;
    try {
      const { source, added, changed, removed, failed } = await api.refresh(s.id);
      put(source);
      said = failed ? `${s.name} could not be fetched. ${source.why}` : `${s.name}: ${added} new, ${changed} changed, ${removed} removed.`;
    } catch (e) {
      said = explain(e);
    }
    busy = "";
  }
  const states: Record<string, string> = { current: "", file: "uploaded file", failing: "not reached", ended: "removed at the source" };
</script>

<div class="flex flex-wrap items-center justify-between gap-3">
  <p class="max-w-xl text-soft">A source is fetched once for all pockets that use it. While it fails, visitors keep seeing its last good items.</p>
  {#if session.edits && !connecting && list?.length}<Button onclick={() => (connecting = true)}>Connect a source</Button>{/if}
</div>
{#if error}<Trouble {error} retry={load} />{/if}
{#if connecting}
  <div class="mt-5 rounded-xl border border-line bg-sheet px-5 py-4">
    <ConnectBox {customer} id="new" onclose={() => (connecting = false)} onconnected={(s) => {
        connecting = false;
        said = `${s.name} is connected: ${count(s.items, "item")}.`;
        open = s.id;
        void load();
      }} />
  </div>
{/if}
<p role="status" class={said ? "mt-4 text-soft" : "sr-only"}>{said}</p>
{#if list?.length == 0 && !connecting}
  <div class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12">
    <p class="text-lg font-semibold">There are no sources yet.</p>
    <p class="mt-1 mb-4 max-w-xl text-soft">Connect your reviews, a feed, a calendar, a social profile or a file. Your pockets then show its content and keep it up to date.</p>
    {#if session.edits}<Button onclick={() => (connecting = true)}>Connect a source</Button>{/if}
  </div>
{:else if list}
  <ul class="mt-5 divide-y divide-line overflow-hidden rounded-xl border border-line bg-sheet">
    {#each list as s (s.id)}
      <li>
        <div class="flex flex-wrap items-center gap-x-4 gap-y-2 px-5 py-3.5">
          <button type="button" class="min-w-0 flex-1 basis-72 text-start" aria-expanded={open == s.id} onclick={() => (open = open == s.id ? "" : s.id)}>
            <span class="block font-medium wrap-anywhere">{s.name}</span>
            <span class="block text-sm text-soft">{[s.form, count(s.items, "item"), s.state == "current" && s.pushed && "reports changes by itself"].filter(Boolean).join(" · ")}</span>
            {#if s.why}<span class="mt-0.5 block text-sm text-bad">{s.why} <span class="text-soft">{s.hint}</span></span>{/if}
          </button>
          <div class="text-end text-sm text-soft">
            {#if states[s.state]}<p class={s.why ? "text-bad" : ""}>{states[s.state]}{#if s.failingSince}{" "}{lasting(s.failingSince)}{/if}</p>{/if}
            {#if s.checkedAt}<p title={exactly(s.checkedAt)}>Checked {ago(s.checkedAt)}</p>{/if}
          </div>
          {#if session.edits && s.state != "file"}<Button kind="plain" class="min-h-8 px-3 text-sm" disabled={busy == s.id} aria-label="Refresh {s.name}" onclick={() => refresh(s)}>Refresh</Button>{/if}
        </div>
        {#if open == s.id}<Details source={s} onchange={put} ondelete={() => (list = list!.filter((has) => has.id != s.id))} />{/if}
      </li>
    {/each}
  </ul>
{/if}
