// Keys of settings, derived from labels.

const form = /^[a-z][a-zA-Z0-9]{0,39}$/;
const longest = 40;

// Letters that Unicode does not decompose.
const letters: Record<string, string> = { ß: "ss", æ: "ae", Æ: "Ae", œ: "oe", Œ: "Oe", ø: "o", Ø: "O", ł: "l", Ł: "L", đ: "d", Đ: "D", ð: "d", þ: "th", ı: "i" };

// A key for a label: valid in the format, and not in use.
export function keyFrom(label: string, taken: Iterable<string>): string {
  const words = label
    .replace(/[^\u0000-\u007f]/g, (c) => letters[c] ?? c)
    .normalize("NFD")
    .replace(/[\u0300-\u036f'’]/g, "")
    .split(/[^a-zA-Z0-9]+/)
    .filter(Boolean);
  let key = words.map((w, i) => (i ? w[0].toUpperCase() + w.slice(1) : w[0].toLowerCase() + (w == w.toUpperCase() ? w.slice(1).toLowerCase() : w.slice(1)))).join("");
  key = key.replace(/^[^a-zA-Z]+/, "");
  key = key && key[0].toLowerCase() + key.slice(1, longest);
  if (!form.test(key)) key = "setting";
  const used = new Set(taken);
  used.add("small"); // reserved by the format
  if (!used.has(key)) return key;
  for (let n = 2; ; n++) {
    const next = key.slice(0, longest - String(n).length) + n;
    if (!used.has(next)) return next;
  }
}

export const isKey = (key: string) => form.test(key) && key != "small";
