// copy puts a text on the clipboard, and a formatted version for editors that would show code as
// text.
export async function copy(text: string, rich = ""): Promise<void> {
  if (!rich || !window.ClipboardItem) return navigator.clipboard.writeText(text);
  await navigator.clipboard.write([new ClipboardItem({ "text/plain": new Blob([text], { type: "text/plain" }), "text/html": new Blob([rich], { type: "text/html" }) })]);
}
