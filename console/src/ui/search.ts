// Search by words, for every search field of the console.

// Letters that Unicode does not decompose.
const plain: Record<string, string> = { ß: "ss", ł: "l", ø: "o", æ: "ae" };

// fold removes case and accents for comparison.
export const fold = (text: string) => text.toLowerCase().replace(/[ßłøæ]/g, (c) => plain[c]).normalize("NFD").replace(/\p{M}/gu, "");

// Whether each word of a search is in one of the texts. A search finds text in every language, not
// only in the console's.
export function matches(search: string, texts: (string | Record<string, string> | undefined)[]): boolean {
  const all = fold(texts.flatMap((t) => (typeof t == "string" ? t : Object.values(t ?? {}))).join(" "));
  return fold(search).split(/\s+/).filter(Boolean).every((word) => all.includes(word));
}
