// The guest pocket in this browser, and the secret with which another device can continue.
export interface GuestPocket {
  key: string;
  secret: string;
  until: string;
}

const name = "glass-pocket-guest";

export const guestPocket = {
  get(): GuestPocket | null {
    try {
      return JSON.parse(localStorage.getItem(name) ?? "null") as GuestPocket | null;
    } catch {
      return null;
    }
  },
  set(it: GuestPocket | null) {
    try {
      if (it) localStorage.setItem(name, JSON.stringify(it));
      else localStorage.removeItem(name);
    } catch {
      // Storage is full or refused. On this device the cookie still identifies the pocket.
    }
  },
};

// As a fragment, the secret appears in no log on its way.
export const linkOf = (it: GuestPocket) => `${location.origin}/resume#${it.secret}`;
