export const attribute = "data-glass-pocket";

// Every mount point at or below root.
export function mountPoints(root: ParentNode): HTMLElement[] {
  const found = [...root.querySelectorAll<HTMLElement>(`[${attribute}]`)];
  if ((root as HTMLElement).hasAttribute?.(attribute)) found.unshift(root as HTMLElement);
  return found;
}

const claimed = new WeakSet<Element>();

// The script tags that stand for a pocket and have not been claimed yet. A classic script
// knows its own tag; a module runs once for all its tags, so it takes every one of them.
export function claimTags(address: string): HTMLScriptElement[] {
  const current = document.currentScript as HTMLScriptElement | null;
  const all = [...document.querySelectorAll<HTMLScriptElement>("script[src]")];
  return (current ? [current] : all.filter((tag) => tag.src.split("?")[0] == address)).filter((tag) => {
    const fresh = !claimed.has(tag) && tag.src.split("?")[0] == address;
    claimed.add(tag);
    return fresh;
  });
}
