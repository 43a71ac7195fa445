// Replaces an element's text, and returns whether it changed.
export function write(at: Element, text: string) {
  if (at.textContent == text) return false;
  at.textContent = text;
  return true;
}
