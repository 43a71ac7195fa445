<script lang="ts">
  // A starter as a large live preview, with the button that creates a pocket.
  import { api } from "../api/client";
  import { explain } from "../api/refused";
  import type { Payload, Previewed } from "../api/types";
  import { guestPocket } from "../guest/guest";
  import CustomerChoice, { only } from "../customers/CustomerChoice.svelte";
  import Rendering from "../editor/publish/Rendering.svelte";
  import { router } from "../router.svelte";
  import { session } from "../session/session.svelte";
  import Box from "../ui/Box.svelte";
  import Button from "../ui/Button.svelte";
  import type { Card } from "./gallery.svelte";

  let { card, payload, close }: { card: Card; payload?: Payload; close: () => void } = $props();
  let nobody = $state(false);
  let customer = $state(session.who?.customer ?? "");
  let busy = $state(false);
  let trouble = $state("");

  void import("../editor/Editor.svelte").catch(() => {}); // the next page
  async function use() {
    busy = true;
    trouble = "";
    try {
      if (session.guest) {
        const it = await api.startGuestPocket(card.widget.name, card.starter);
        guestPocket.set({ key: it.pocket.key, secret: it.secret, until: it.until });
        await session.look();
        router.go(`/pockets/${it.pocket.key}`);
      } else {
        const made = await api.makePocket(customer, card.widget.name, card.starter);
        router.go(`/pockets/${made.key}`);
      }
    } catch (error) {
      trouble = explain(error);
      busy = false;
    }
  }
</script>

<Box title="{card.widget.title.en}: {card.title}" about={card.summary || (card.widget.summary?.en ?? "")} wide onclose={close} onsubmit={use}>
  {#if payload}<Rendering publicBase={session.who!.publicBase} label="With sample content" payload={payload as Previewed} />{/if}
  <p class="mt-4 text-soft">You can change everything later, even the starter.</p>
  {#if session.operator}
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
  {/if}
  {#if trouble}<p role="alert" class="mt-3 text-bad">{trouble}</p>{/if}
  {#snippet actions()}
    <Button kind="plain" onclick={close}>Cancel</Button>
    <Button type="submit" disabled={busy || (session.operator && !customer) || session.who?.role == "customer-viewer"}>{busy ? "Making the pocket…" : "Use this starter"}</Button>
  {/snippet}
</Box>
