// Converts words to a widget's name: lower-case letters, digits and hyphens. Words without any of
// them, such as emoji, always give the same name.
export function nameFrom(words: string): string {
  const name = words
    .normalize("NFD")
    .replace(/[\u0300-\u036f]/g, "")
    .toLowerCase()
    .replace(/ß/g, "ss")
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^[^a-z]+|-+$/g, "")
    .slice(0, 40)
    .replace(/-+$/, "");
  if (name || !words.trim()) return name || "widget";
  let sum = 0;
  for (const c of words) sum = (Math.imul(sum, 31) + c.codePointAt(0)!) >>> 0;
  return `widget-${sum.toString(36)}`;
}
