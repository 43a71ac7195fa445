<script lang="ts">
  // People with access to a customer, and invitations.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Customer, Invitation, People } from "../api/types";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import Segments from "../ui/Segments.svelte";
  import { ago, exactly } from "../ui/time";

  let { customer }: { customer: Customer } = $props();
  let people = $state<People | null>(null);
  let inviting = $state(false);
  let ending = $state("");
  let role = $state("customer-editor");
  let name = $state("");
  let made = $state<Invitation | null>(null);
  let copied = $state(false);
  let trouble = $state("");
  const may: Record<string, string> = { "customer-editor": "Can edit and publish", "customer-viewer": "Can view" };
  const manages = $derived(session.who?.role == "operator-admin" || session.who?.role == "customer-editor");
  const waiting = $derived(people?.invitations.filter((n) => !n.usedAt && Date.parse(n.expiresAt) > Date.now()) ?? []);

  const load = async () => (people = await api.people(customer.id));
  load().catch((error) => (trouble = error.message));
  async function invite() {
    if (made) return close();
    trouble = "";
    try {
      made = await api.invite(customer.id, role, name.trim());
      await load();
    } catch (error) {
      trouble = explain(error);
    }
  }
  function close() {
    inviting = false;
    made = null;
    copied = false;
    name = "";
  }
  async function copy() {
    await navigator.clipboard.writeText(made!.link!);
    copied = true;
  }
  async function revokeAccess() {
    const who = ending;
    ending = "";
    try {
      await api.revokeAccess(customer.id, who);
      await load();
    } catch (error) {
      trouble = explain(error);
    }
  }
  async function revokeInvitation(id: number) {
    await api.revokeInvitation(customer.id, id).catch((error) => (trouble = explain(error)));
    await load();
  }
</script>

<div class="flex flex-wrap items-center justify-between gap-4">
  <p class="text-soft">People who can sign in for {customer.name}.</p>
  {#if manages}<Button onclick={() => (inviting = true)}>Invite somebody</Button>{/if}
</div>
{#if trouble && !inviting}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
{#if people}
  {#if people.people.length == 0}
    <p class="mt-4 rounded-lg bg-sunk px-4 py-3 text-soft">There are no people yet. An invitation is a link that you send. It works once and expires after two weeks.</p>
  {:else}
    <ul class="mt-4 divide-y divide-line rounded-xl border border-line bg-sheet">
      {#each people.people as person (person.name)}
        <li class="flex items-center justify-between gap-4 px-5 py-3">
          <div class="min-w-0"><p class="truncate font-medium">{person.name}{#if person.name == session.who?.name}<span class="font-normal text-soft">{" · you"}</span>{/if}</p><p class="text-sm text-soft">{may[person.role] ?? person.role}</p></div>
          {#if manages && person.name != session.who?.name}<button type="button" class="rounded text-sm underline underline-offset-4" aria-label="Revoke access of {person.name}" onclick={() => (ending = person.name)}>Revoke access</button>{/if}
        </li>
      {/each}
    </ul>
  {/if}
  {#if waiting.length}
    <h2 class="mt-8 mb-2 text-[13px] font-semibold tracking-wide text-teal">Invited</h2>
    <ul class="divide-y divide-line rounded-xl border border-line bg-sheet">
      {#each waiting as n (n.id)}
        <li class="flex items-center justify-between gap-4 px-5 py-3">
          <div class="min-w-0"><p class="font-medium">{n.name || "Somebody"}</p><p class="text-sm text-soft" title={exactly(n.createdAt)}>{may[n.role]}; invited {ago(n.createdAt)} by {n.createdBy}, expires on {new Intl.DateTimeFormat("en", { dateStyle: "long" }).format(Date.parse(n.expiresAt))}</p></div>
          {#if manages}<button type="button" class="shrink-0 rounded text-sm underline underline-offset-4" onclick={() => revokeInvitation(n.id)}>Revoke</button>{/if}
        </li>
      {/each}
    </ul>
  {/if}
{/if}
{#if inviting}
  <Box title={made ? "Send them this link" : "Invite somebody"} about={made ? "Copy it now: it is not shown again. The first person to open it joins." : ""} onclose={close} onsubmit={invite}>
    {#if made}
      <!-- svelte-ignore a11y_no_noninteractive_tabindex: a scrolling region must be reachable by keyboard -->
      <pre class="overflow-x-auto rounded-lg bg-sunk p-3.5 font-mono text-[13px] whitespace-pre-wrap wrap-anywhere" tabindex="0" aria-label="Link">{made.link}</pre>
    {:else}
      <label class="mb-1 block font-medium" for="who">Name <span class="font-normal text-soft">(for your list of invitations)</span></label>
      <input id="who" class="field mb-4" maxlength="80" bind:value={name} />
      <p id="invite-role" class="mb-1 font-medium">Role</p>
      <Segments value={role} labelledby="invite-role" options={Object.entries(may).map(([value, label]) => ({ value, label }))} onchange={(v) => (role = v)} />
      {#if trouble}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
    {/if}
    {#snippet actions()}
      {#if made}
        <Button onclick={copy}>{copied ? "Copied" : "Copy link"}</Button>
        <Button kind="plain" type="submit">Close</Button>
      {:else}
        <Button kind="plain" onclick={close}>Cancel</Button>
        <Button type="submit">Make link</Button>
      {/if}
    {/snippet}
  </Box>
{/if}
{#if ending}
  <Box title="Revoke access of {ending}?" about="They are signed out immediately. Everything they made stays." onclose={() => (ending = "")} onsubmit={revokeAccess}>
    <p>To return, they need a new invitation.</p>
    {#snippet actions()}
      <Button kind="plain" onclick={() => (ending = "")}>Cancel</Button>
      <Button kind="grave" type="submit">Revoke access</Button>
    {/snippet}
  </Box>
{/if}
