<script lang="ts">
  // The customers, and one customer's brand, people and sites.
  import { Tabs } from "bits-ui";
  import AuditList from "../audit/AuditList.svelte";
  import { api } from "../api/client";
  import type { Customer } from "../api/types";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Header from "../ui/Header.svelte";
  import Trouble from "../ui/Trouble.svelte";
  import About from "./About.svelte";
  import BrandForm from "./BrandForm.svelte";
  import People from "./People.svelte";

  let { id }: { id: string } = $props();
  let list = $state<Customer[] | null>(null);
  let customer = $state<Customer | null>(null);
  let error = $state<Error | null>(null);
  let adding = $state(false);
  let name = $state("");
  let trouble = $state("");

  const few = 8; // largest number of customers that are shown as a list
  let search = $state("");
  let next = $state("");
  let turn = 0;
  let waiting: ReturnType<typeof setTimeout> | undefined;

  async function load(more = false) {
    error = null;
    const mine = ++turn;
    try {
      if (id) customer = await api.customer(id);
      else {
        const page = await api.customers(search.trim(), more ? next : "");
        if (mine != turn) return; // another request has started
        list = more ? [...list!, ...page.customers] : page.customers;
        next = page.next ?? "";
      }
    } catch (e) {
      session.expire(e);
      if (mine == turn) error = e as Error;
    }
  }
  load();
  function find(text: string) {
    search = text;
    clearTimeout(waiting);
    waiting = setTimeout(() => load(), 150);
  }
  async function add() {
    trouble = "";
    try {
      const made = await api.makeCustomer(name.trim());
      adding = false;
      router.go(`/customers/${made.id}`);
    } catch (e) {
      trouble = (e as Error).message;
    }
  }
  let section = $state(new URLSearchParams(location.search).get("tab") ?? "brand");
  const tab = "min-h-10 border-b-2 border-transparent px-1 font-medium text-soft hover:text-ink data-[state=active]:border-teal data-[state=active]:text-ink";
</script>

<svelte:head><title>{customer?.name ?? "Customers"} · Glass Pocket</title></svelte:head>

<Header />
<main class="mx-auto max-w-4xl px-5 py-10">
  {#if error}
    <Trouble {error} retry={() => load()} />
  {:else if !id}
    <div class="flex flex-wrap items-end justify-between gap-4">
      <div>
        <h1 class="text-2xl font-semibold tracking-tight">Customers</h1>
        <p class="mt-1 text-soft">Each customer has its own pockets, people, sites and brand.</p>
      </div>
      {#if session.who?.role == "operator-admin"}<Button onclick={() => (adding = true)}>New customer</Button>{/if}
    </div>
    {#if list && (search || next || list.length > few)}
      <input type="search" class="field mt-6 w-full sm:w-72" placeholder="Search name or ID" aria-label="Search name or ID" value={search} oninput={(e) => find(e.currentTarget.value)} autocomplete="off" />
    {/if}
    {#if list?.length == 0 && search.trim()}
      <div class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12 text-center">
        <p class="font-medium">No customers match this search.</p>
        <button type="button" class="mt-2 rounded underline underline-offset-4" onclick={() => find("")}>Show all</button>
      </div>
    {:else if list?.length == 0}
      <div class="mt-6 rounded-xl border border-line bg-sheet px-8 py-12"><p class="text-lg font-semibold">There are no customers yet.</p><p class="mt-1 text-soft">Make the first customer, then choose a widget in the gallery.</p></div>
    {:else if list}
      <ul class="mt-6 divide-y divide-line rounded-xl border border-line bg-sheet">
        {#each list as c (c.id)}
          <li class="relative flex flex-wrap items-baseline justify-between gap-x-6 px-5 py-3.5 first:rounded-t-xl last:rounded-b-xl hover:bg-paper">
            <div><a href={`/customers/${c.id}`} onclick={router.follow} class="font-medium after:absolute after:inset-0">{c.name}</a><div class="font-mono text-[13px] text-soft">{c.id}</div></div>
            <p class="text-sm text-soft">{c.withheld ? "Withheld" : c.sites.length ? c.sites.slice(0, 3).join(", ") : ""}</p>
          </li>
        {/each}
      </ul>
      {#if next}<Button kind="plain" class="mt-5" onclick={() => load(true)}>Show more</Button>{/if}
    {/if}
  {:else if customer}
    <h1 class="text-2xl font-semibold tracking-tight">{customer.name}</h1>
    <p class="mt-0.5 font-mono text-[13px] text-soft">{customer.id}</p>
    <Tabs.Root bind:value={section} class="mt-6">
      <Tabs.List class="flex gap-6 border-b border-line whitespace-nowrap max-sm:flex-wrap max-sm:gap-x-4" aria-label="Customer sections">
        <Tabs.Trigger value="brand" class={tab}>Brand</Tabs.Trigger>
        <Tabs.Trigger value="sources" class={tab}>Sources</Tabs.Trigger>
        <Tabs.Trigger value="people" class={tab}>People</Tabs.Trigger>
        <Tabs.Trigger value="sites" class={tab}>Sites and time zone</Tabs.Trigger>
        <Tabs.Trigger value="audit" class={tab}>Changes</Tabs.Trigger>
      </Tabs.List>
      <Tabs.Content value="brand" class="pt-6"><BrandForm {customer} /></Tabs.Content>
      <Tabs.Content value="sources" class="pt-6">{#if section == "sources"}{#await import("../sources/Sources.svelte") then { default: Sources }}<Sources customer={customer.id} />{/await}{/if}</Tabs.Content>
      <Tabs.Content value="people" class="pt-6"><People {customer} /></Tabs.Content>
      <Tabs.Content value="sites" class="pt-6"><About {customer} onchange={(c) => (customer = c)} /></Tabs.Content>
      <Tabs.Content value="audit" class="pt-4"><AuditList which={{ customer: customer.id }} /></Tabs.Content>
    </Tabs.Root>
  {/if}
</main>
{#if adding}
  <Box title="New customer" onclose={() => (adding = false)} onsubmit={add}>
    <label class="mb-1 block font-medium" for="customer-name">Name</label>
    <input id="customer-name" class="field" maxlength="120" bind:value={name} required />
    {#if trouble}<p role="alert" class="mt-2 text-bad">{trouble}</p>{/if}
    {#snippet actions()}
      <Button kind="plain" onclick={() => (adding = false)}>Cancel</Button>
      <Button type="submit">Make customer</Button>
    {/snippet}
  </Box>
{/if}
