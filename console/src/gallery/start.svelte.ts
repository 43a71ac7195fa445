// Starts a pocket from a card, in one action.
import { api } from "../api/client";
import { explain } from "../api/refused";
import { guestPocket } from "../guest/guest";
import { router } from "../router.svelte";
import { session } from "../session/session.svelte";
import type { Card } from "./gallery.svelte";

const last = "glass-pocket-customer";

// The customer that an operator made something for last, in this browser.
export function lastCustomer(): string {
  try {
    return localStorage.getItem(last) ?? "";
  } catch {
    return "";
  }
}
export function rememberCustomer(id: string) {
  try {
    localStorage.setItem(last, id);
  } catch {} // it is only a convenience
}

export class Starting {
  busy = $state(""); // id of the card
  trouble = $state("");
  asking = $state.raw<Card | null>(null); // the card for which an operator must choose a customer

  // customer is whose the pocket is; "" asks operators.
  async start(card: Card, customer: string) {
    if (this.busy) return;
    if (session.operator && !customer) {
      this.asking = card;
      return;
    }
    this.busy = card.id;
    this.trouble = "";
    void import("../editor/Editor.svelte").catch(() => {}); // the next page
    try {
      if (session.guest) {
        const it = await api.startGuestPocket(card.widget.name, card.starter);
        guestPocket.set({ key: it.pocket.key, secret: it.secret, until: it.until });
        await session.look();
        router.go(`/pockets/${it.pocket.key}`);
      } else {
        const made = await api.makePocket(customer, card.widget.name, card.starter);
        rememberCustomer(customer);
        router.go(`/pockets/${made.key}`);
      }
    } catch (error) {
      session.expire(error);
      this.trouble = explain(error);
    }
    this.busy = "";
  }
}
