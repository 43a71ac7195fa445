import type { Global } from "./types";

// Ends an instance and restores the fallback.
export function forget(g: Global, at: Element) {
  const instance = g.live.get(at);
  if (!instance) return;
  instance.end.abort();
  for (const [element, other] of g.live) if (other == instance) g.live.delete(element);
  instance.host.hidden = false;
  if (instance.own) instance.host.remove();
  else instance.host.shadowRoot!.replaceChildren(document.createElement("slot"));
}

// Ends the instances that the page has removed. A move within one task is not a removal.
export function forgetRemoved(g: Global) {
  for (const [at, instance] of g.live) if (!instance.host.isConnected) forget(g, at);
}
