// The pocket that somebody without an account has begun in this browser, and the secret by
// which another device goes on with it.
export interface Begun {
  key: string;
  secret: string;
  until: string;
}

const name = "glass-pocket-begun";

export const begun = {
  get(): Begun | null {
    try {
      return JSON.parse(localStorage.getItem(name) ?? "null") as Begun | null;
    } catch {
      return null;
    }
  },
  set(it: Begun | null) {
    try {
      if (it) localStorage.setItem(name, JSON.stringify(it));
      else localStorage.removeItem(name);
    } catch {
      // Full or refused: the cookie still knows it on this device.
    }
  },
};

// Behind the # the secret reaches no log on its way.
export const linkOf = (it: Begun) => `${location.origin}/begun#${it.secret}`;
