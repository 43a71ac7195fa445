<script lang="ts">
  // Asks an operator for which customer a pocket is, next to its large live preview.
  import type { Payload, Previewed } from "../api/types";
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import Rendering from "../editor/publish/Rendering.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import type { Card } from "./gallery.svelte";
  import type { Starting } from "./start.svelte";

  let { card, payload, starting, close }: { card: Card; payload?: Payload; starting: Starting; close: () => void } = $props();
  let nobody = $state(false);
  let customer = $state("");
</script>

<Box title="{card.widget.title.en}: {card.title}" about={card.summary || (card.widget.summary?.en ?? "")} wide onclose={close} onsubmit={() => customer && starting.start(card, customer)}>
  {#if payload}<Rendering publicBase={session.who!.publicBase} label="With sample content" payload={payload as Previewed} />{/if}
  <label class="mt-4 block font-medium" for="for-customer">For which customer?</label>
  <CustomerChoice
    id="for-customer"
    choose
    size="mt-1 max-w-sm"
    value={customer}
    onchange={(c) => (customer = c)}
    onfound={(customers) => {
      nobody = customers.length == 0 && !customer;
      customer ||= only(customers);
    }}
  />
  {#if nobody}<p class="mt-1 text-sm text-soft">There are no customers yet. Make one under Customers.</p>{/if}
  {#if starting.trouble}<p role="alert" class="mt-3 text-bad">{starting.trouble}</p>{/if}
  {#snippet actions()}
    <Button kind="plain" onclick={close}>Cancel</Button>
    <Button type="submit" disabled={!!starting.busy || !customer}>{starting.busy ? "Making the pocket…" : "Use this starter"}</Button>
  {/snippet}
</Box>
