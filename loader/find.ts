export const attribute = "data-glass-pocket";

// Every mount point at or below root. Plain loops here and elsewhere: pages bring old
// shims that change what the methods of arrays do.
export function mountPoints(root: ParentNode, key?: string): HTMLElement[] {
  const found: HTMLElement[] = [];
  const add = (at: HTMLElement) => {
    if (key == null || at.getAttribute(attribute) == key) found.push(at);
  };
  if ((root as HTMLElement).hasAttribute?.(attribute)) add(root as HTMLElement);
  for (const at of root.querySelectorAll<HTMLElement>(`[${attribute}]`)) add(at);
  return found;
}

const claimed = new WeakSet<Element>();

// The script tags that stand for a pocket and have not been claimed yet. A classic script
// knows its own tag; a module runs once for all its tags, so it takes every one of them.
export function claimTags(address: string): HTMLScriptElement[] {
  const current = document.currentScript as HTMLScriptElement | null;
  const found: HTMLScriptElement[] = [];
  for (const tag of current ? [current] : document.querySelectorAll<HTMLScriptElement>("script[src]")) {
    if (tag.src.split("?")[0] != address || claimed.has(tag)) continue;
    claimed.add(tag);
    found.push(tag);
  }
  return found;
}
