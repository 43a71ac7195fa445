// Data about a visitor: kept while the page is open and, if the page says that the visitor has
// agreed, across visits.
import type { Instance, Memory } from "./types";

const version = 1;
export const open = new Map<string, unknown>(); // by pocket, until the visitor leaves the page

// data-glass-consent="given" on the mount point or any element around it, up to <html>.
function agreed(host: Element) {
  const near = host.closest("[data-glass-consent]") || document.documentElement;
  return near.getAttribute("data-glass-consent") == "given";
}

// Storage that throws is normal: it can be switched off, full, or in a frame without an origin.
function stored(key: string, record?: object | null): any {
  try {
    const name = "glass-pocket:" + key;
    if (record) localStorage.setItem(name, JSON.stringify(record));
    else if (record === null) localStorage.removeItem(name);
    else return JSON.parse(localStorage.getItem(name)!);
  } catch {}
}

export function memory(instance: Instance): Memory {
  const { key, host } = instance;
  let days = 0;
  let changed = () => {};
  const read = () => {
    if (agreed(host) && !open.has(key)) {
      const record = stored(key);
      if (record?.v == version && record.until > Date.now()) open.set(key, record.data);
    }
    return open.get(key);
  };
  // The visitor has agreed or no longer agrees.
  instance.consent = () => {
    if (!agreed(host)) return stored(key, null);
    const here = open.get(key);
    open.delete(key);
    const before = read(); // an earlier visit's data takes precedence over this one's
    if (before === undefined && here !== undefined) write(here, days);
    changed();
  };
  function write(data: unknown, lasts: number) {
    days = lasts;
    open.set(key, data);
    if (agreed(host)) stored(key, { v: version, until: Date.now() + days * 864e5, data });
  }
  return { read, write, changed: (callback) => void (changed = callback) };
}
