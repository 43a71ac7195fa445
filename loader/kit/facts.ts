// Facts that the page states about itself or its visitor, in data-fact-NAME="…" on the mount point
// or any element around it; the nearest counts. They never leave the page.
import { pointOf, type Pocket, type Table } from "./types";

export const kebab = (name: string) => name.replace(/[A-Z]/g, (letter) => "-" + letter.toLowerCase());

export function facts(pocket: Pocket, table: Table) {
  const { root, signal } = pocket;
  const types = table.facts!;
  // Not for … in, because pages include old libraries that extend every object.
  const names = Object.keys(types);
  let stated: Record<string, string | boolean> = {};
  let heard = () => {};

  // Whether anything has changed.
  function read() {
    const before = stated;
    let other = false;
    stated = {};
    for (const name of names) {
      const attribute = "data-fact-" + kebab(name);
      const value = pointOf(pocket).closest(`[${attribute}]`)?.getAttribute(attribute)?.trim();
      if (types[name] == "switch") stated[name] = value != null && value != "false";
      else if (value) stated[name] = value.slice(0, 200);
      other ||= stated[name] !== before[name];
    }
    for (const name of names) {
      const value = stated[name];
      for (const at of root.querySelectorAll(`[data-fact="${name}"]`)) {
        const fallback = ((at as any).$fallback ??= at.textContent);
        at.textContent = value ? value + "" : fallback;
      }
    }
    // An element with several conditions shows if all of them are met.
    for (const at of root.querySelectorAll<HTMLElement>("[data-when-fact],[data-unless-fact]")) {
      const { whenFact, unlessFact } = at.dataset;
      at.hidden = (whenFact != null && !stated[whenFact]) || (unlessFact != null && !!stated[unlessFact]);
    }
    return other;
  }

  read();
  const watch = new MutationObserver(() => read() && heard());
  const attributes: string[] = [];
  for (const name of names) attributes.push("data-fact-" + kebab(name));
  watch.observe(document, { subtree: true, attributeFilter: attributes });
  signal.addEventListener("abort", () => watch.disconnect());
  pocket.facts = { now: () => stated, changed: (callback: () => void) => void (heard = callback) };
}
