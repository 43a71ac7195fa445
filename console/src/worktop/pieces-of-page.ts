// The pieces of a page that are pasted one by one: which is which, and the page that they make.
export type Piece = "html" | "css" | "js";
export const pieceLabels: Record<Piece, string> = { html: "HTML", css: "CSS", js: "JavaScript" };

// What a pasted piece is.
export function pieceOf(text: string): Piece {
  if (/^\s*(<!--[^]*?-->\s*)*<[a-z!]/i.test(text)) return "html";
  const code = text.replace(/\/\*[^]*?\*\/|\/\/.*$|"[^"\n]*"|'[^'\n]*'|`[^`]*`/gm, "");
  if (/\b(function|const|let|var|import|export|return|new)\b|=>|\)\s*[;.]/.test(code)) return "js";
  return /[\w.#:\])*>-]\s*\{[^{}]*:[^{}]*\}|@(media|import|keyframes|font-face)\b/.test(code) ? "css" : /</.test(text) ? "html" : "js";
}

// One page with all pieces.
export function pageOf({ html, css, js }: Record<Piece, string>): string {
  const style = css.trim() ? `<style>\n${css}\n</style>\n` : "";
  const script = js.trim() ? `<script>\n${js.replace(/<\/script/gi, "<\\/script")}\n</script>\n` : "";
  const head = /<\/head\s*>/i.exec(html);
  const withStyle = head ? html.slice(0, head.index) + style + html.slice(head.index) : style + html;
  const body = /<\/body\s*>/i.exec(withStyle);
  return body ? withStyle.slice(0, body.index) + script + withStyle.slice(body.index) : withStyle + "\n" + script;
}
