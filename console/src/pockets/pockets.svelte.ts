import { api } from "../api/client";
import type { Pocket } from "../api/types";
import { session } from "../session/session.svelte";

export class PocketsInReach {
  pockets = $state<Pocket[]>([]);
  customers = $state<Record<string, string>>({});
  next = $state<string | undefined>();
  loading = $state(true);
  error = $state<Error | null>(null);

  async load() {
    this.loading = true;
    this.error = null;
    try {
      const [page, customers] = await Promise.all([api.pockets(), api.customers()]);
      this.pockets = page.pockets;
      this.next = page.next;
      this.customers = Object.fromEntries(customers.customers.map((c) => [c.id, c.name]));
    } catch (error) {
      session.ended(error);
      this.error = error as Error;
    } finally {
      this.loading = false;
    }
  }

  async more() {
    const page = await api.pockets(this.next);
    this.pockets.push(...page.pockets);
    this.next = page.next;
  }
}
