<script lang="ts">
  // Makes pockets of a released widget: one opens, several are listed and selected.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import { lastCustomer, rememberCustomer } from "../gallery/start.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";

  // plain: one button, which asks for what is unknown.
  let { widget, plain = false }: { widget: string; plain?: boolean } = $props();
  let count = $state(1);
  let customer = $state(lastCustomer());
  let busy = $state(false);
  let asking = $state(false);
  let trouble = $state("");
  const most = 50;
  const words = $derived(count > 1 ? `Make ${count} pockets` : "Make a pocket");

  async function make(event?: Event) {
    event?.preventDefault();
    if (!customer) return void (asking = true);
    busy = true;
    trouble = "";
    const keys: string[] = [];
    try {
      for (let i = 0; i < Math.min(most, Math.max(1, Math.round(count) || 1)); i++) keys.push((await api.makePocket(customer, widget, "")).key);
      rememberCustomer(customer);
      if (keys.length == 1) router.go(`/pockets/${keys[0]}`);
      else router.go("/", { made: keys.join(",") });
    } catch (error) {
      session.expire(error);
      trouble = `${explain(error)}${keys.length ? ` ${keys.length} were made.` : ""}`;
      asking = plain;
    }
    busy = false;
  }
</script>

{#if plain}
  <Button kind="plain" disabled={busy} onclick={() => make()}>Make a pocket</Button>
{:else}
  <form class="flex flex-wrap items-center gap-2" onsubmit={make} aria-label="Make pockets">
    <input type="number" class="field min-h-9 w-18 py-1 tabular-nums" min="1" max={most} bind:value={count} aria-label="How many pockets" />
    <CustomerChoice id="pockets-for" label="For which customer" size="w-auto max-w-52" choose value={customer} onchange={(c) => (customer = c)} onfound={(found) => (customer ||= only(found))} />
    <Button type="submit" disabled={busy || !customer}>{busy ? "Making…" : words}</Button>
    {#if trouble}<span role="alert" class="text-bad">{trouble}</span>{/if}
  </form>
{/if}
{#if asking && plain}
  <Box title="Make a pocket" about="For which customer?" onclose={() => (asking = false)} onsubmit={() => customer && make()}>
    <CustomerChoice id="pockets-for" label="For which customer" choose value={customer} onchange={(c) => (customer = c)} onfound={(found) => (customer ||= only(found))} />
    {#if trouble}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (asking = false)}>Cancel</Button>
      <Button type="submit" disabled={busy || !customer}>{busy ? "Making…" : "Make a pocket"}</Button>
    {/snippet}
  </Box>
{/if}
