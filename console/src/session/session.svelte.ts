import { api } from "../api/client";
import { Refused } from "../api/refused";
import type { Session } from "../api/types";

// Who is signed in: undefined while that is not known yet, null for nobody. Where the gallery is
// open, somebody without an account is a guest.
class SignedIn {
  who = $state<Session | null | undefined>(undefined);
  trouble = $state("");

  get guest() {
    return this.who?.role == "guest";
  }
  // Belongs to the operator: every customer is in reach.
  get operator() {
    return this.who?.role == "operator-admin" || this.who?.role == "developer";
  }
  get edits() {
    return !!this.who && this.who.role != "customer-viewer" && !this.guest;
  }

  // May see everything of a customer, and change nothing.
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

  // An answer of 401 in the middle of work means that the session has ended.
  ended(error: unknown) {
    if (error instanceof Refused && error.status == 401 && error.code != "account-needed") this.who = null;
  }
}

export const session = new SignedIn();
