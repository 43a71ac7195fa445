export const attribute = "data-glass-pocket";

// Every mount point in root, including root. Plain loops here and elsewhere, because pages include
// old shims that change methods of arrays.
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

// The unclaimed script tags of pockets. A classic script knows its own tag. A module runs once for
// all its tags, so it claims all of them.
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
