// The page that a widget is shown in: something above and below it, as in the pages that it
// will stand in, and a bar of the page's own when the author wants to see one.
import type { Host } from "./types";

const bars = (widths: string[]) => widths.map((w) => `<i style="width:${w}"></i>`).join("");

const style = `
  body { margin: 0; font: 16px/1.5 system-ui, sans-serif; }
  .host { --words: #1a2b4016; min-height: 100vh; box-sizing: border-box; background: #fff; }
  .host.dark { --words: #ffffff1c; background: #10151f; }
  .host .words { padding: 28px 24px; display: grid; gap: 12px; }
  .host .words i { display: block; height: 10px; border-radius: 5px; background: var(--words); }
  .host .room { padding: 0 24px; }
  .host.bare .room { padding: 0; }
  .host .bar { position: sticky; top: 0; z-index: 1000; display: flex; align-items: center; gap: 16px; height: 64px; padding: 0 24px; background: #24324a; color: #fff; box-shadow: 0 1px 8px #0004; }
  .host .bar b { flex: 1; }
  .host .bar i { width: 52px; height: 10px; border-radius: 5px; background: #ffffff66; }
`;

const sheet = new CSSStyleSheet();
sheet.replaceSync(style);

let now = "";

// Lays the page out; the elements that widgets are to be mounted at come back. They stay the
// same ones as long as the page does.
export function lay(host: Host): HTMLElement[] {
  const wanted = JSON.stringify(host);
  if (wanted != now) {
    now = wanted;
    document.adoptedStyleSheets = [sheet];
    document.documentElement.style.colorScheme = host.dark ? "dark" : "light";
    const words = (widths: string[]) => (host.bare ? "" : `<div class="words" aria-hidden="true">${bars(widths)}</div>`);
    const room = `<div class="room"><div class="stage"></div></div>`;
    const page = document.createElement("div");
    page.className = ["host", host.dark && "dark", host.bare && "bare"].filter(Boolean).join(" ");
    page.innerHTML =
      (host.bar ? `<div class="bar"><b>The page's own bar</b><i></i><i></i><i></i></div>` : "") +
      words(["55%", "92%", "84%"]) +
      Array.from({ length: host.copies }, () => room).join(words(["90%", "62%"])) +
      words(["96%", "88%", "94%", "41%"]) +
      (host.bar ? words(["94%", "87%", "90%", "93%", "89%", "96%", "85%", "92%", "95%", "88%", "90%", "70%"]) : "");
    document.getElementById("page")!.replaceChildren(page);
  }
  return [...document.querySelectorAll<HTMLElement>(".stage")];
}
