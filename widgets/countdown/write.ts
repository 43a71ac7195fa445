// Writes a text where another stands, and tells whether it did.
export function write(at: Element, text: string) {
  if (at.textContent == text) return false;
  at.textContent = text;
  return true;
}
