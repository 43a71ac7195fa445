// The pocket that somebody without an account has begun in this browser, and the secret by
// which another device goes on with it.
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
      // Full or refused: the cookie still knows it on this device.
    }
  },
};

// Behind the # the secret reaches no log on its way.
export const linkOf = (it: GuestPocket) => `${location.origin}/resume#${it.secret}`;
