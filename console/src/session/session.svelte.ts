import { api } from "../api/client";
import { Refused } from "../api/refused";
import type { Session } from "../api/types";

// The signed-in user: undefined while unknown, null for nobody. If the gallery is open, somebody
// without an account is a guest.
class SignedIn {
  who = $state<Session | null | undefined>(undefined);
  trouble = $state("");

  get guest() {
    return this.who?.role == "guest";
  }
  // The operator's users can access every customer.
  get operator() {
    return this.who?.role == "operator-admin" || this.who?.role == "developer";
  }
  get edits() {
    return !!this.who && this.who.role != "customer-viewer" && !this.guest;
  }

  // Viewers see everything of a customer, but change nothing.
  get views() {
    return this.who?.role == "customer-viewer";
  }

  async look() {
    try {
      this.who = await api.whoAmI();
      this.trouble = "";
    } catch (error) {
      if (error instanceof Refused && error.status == 401) this.who = null;
      else this.trouble = (error as Error).message;
    }
  }

  async signIn(name: string, password: string) {
    this.who = await api.signIn(name, password);
  }

  async signOut() {
    await api.signOut();
    await this.look();
  }

  // A response of 401 during work means that the session has ended.
  expire(error: unknown) {
    if (error instanceof Refused && error.status == 401 && error.code != "account-needed") this.who = null;
  }
}

export const session = new SignedIn();
