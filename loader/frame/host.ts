// The page around a widget: something above and below it, as in the pages where it will be. Each
// kind exists on real hosts.
export interface Host {
  page: "light" | "tinted" | "dark" | "photo" | "column" | "bar" | "bare"; // bare has nothing around the widget
  copies: number;
  long: boolean; // it is long enough to scroll
}

const bars = (widths: string[]) => widths.map((w) => `<i style="width:${w}"></i>`).join("");

const style = `
  html { height: 100%; }
  body { margin: 0; min-height: 100%; font: 16px/1.5 system-ui, sans-serif; }
  .host { --words: #1a2b4016; min-height: 100vh; box-sizing: border-box; background: #fff; }
  .host.on-bare { min-height: 0; background: none; }
  .host.on-tinted { background: #e8ece9; }
  .host.on-dark { --words: #ffffff1c; background: #10151f; }
  .host .words { padding: 28px 24px; display: grid; gap: 12px; }
  .host .words i { display: block; height: 10px; border-radius: 5px; background: var(--words); }
  .host .room { padding: 0 24px; }
  .host.on-bare .room { padding: 0; }
  .host .bar { position: sticky; top: 0; z-index: 1000; display: flex; align-items: center; gap: 16px; height: 64px; padding: 0 24px; background: #24324a; color: #fff; box-shadow: 0 1px 8px #0004; }
  .host .bar b { flex: 1; }
  .host .bar i { width: 52px; height: 10px; border-radius: 5px; background: #ffffff66; }
  .host.on-photo { --words: #ffffff38;
    background:
      radial-gradient(60% 34% at 18% 104%, #1d3a3a 0 60%, #0000 61%),
      radial-gradient(70% 40% at 82% 106%, #244a45 0 60%, #0000 61%),
      radial-gradient(9vmin 9vmin at 72% 26%, #fff3d6 0 48%, #ffe9b8aa 50%, #0000 70%),
      linear-gradient(#3f6d8f 0%, #7fa3b3 34%, #e3b98f 58%, #c98a6b 66%, #4d7f7c 67%, #2d5a5c 100%);
    background-attachment: fixed; }
  .host.on-column { display: grid; grid-template-columns: minmax(0, 1fr) 260px; gap: 24px; padding-inline-end: 24px; }
  .host.on-column .side { padding-block: 28px; border-inline-start: 1px solid #1a2b401f; padding-inline-start: 20px; }
  .host.on-column .side .words { padding-inline: 0; }
  .host.on-column .room { padding: 0; }
  @media (max-width: 600px) { .host.on-column { grid-template-columns: minmax(0, 1fr); padding: 0 24px; } .host.on-column .side { border: 0; padding-inline-start: 0; max-width: 260px; } }
`;

const sheet = new CSSStyleSheet();
sheet.replaceSync(style);

let laid = "";

const more = ["94%", "87%", "90%", "93%", "89%", "96%", "85%", "92%", "95%", "88%", "90%", "70%"];

// Lays out the page and returns the elements for mounting widgets. They stay the same as long as
// the page does.
export function lay(host: Host): HTMLElement[] {
  const wanted = JSON.stringify(host);
  if (wanted != laid) {
    laid = wanted;
    document.adoptedStyleSheets = [sheet];
    document.documentElement.style.colorScheme = host.page == "dark" ? "dark" : "light";
    const bare = host.page == "bare";
    const words = (widths: string[]) => (bare ? "" : `<div class="words" aria-hidden="true">${bars(widths)}</div>`);
    const room = `<div class="room"><div class="stage"></div></div>`;
    const rooms = Array.from({ length: host.copies }, () => room).join(words(["90%", "62%"]));
    const long = host.long || host.page == "bar" ? words(more) + words(more) + words(more) : "";
    const page = document.createElement("div");
    page.className = `host on-${host.page}`;
    page.innerHTML =
      host.page == "column"
        ? `<div>${words(["55%", "92%", "84%"])}${words(more)}${long}</div><div class="side">${words(["70%"])}${rooms}${words(["90%", "60%"])}</div>`
        : (host.page == "bar" ? `<div class="bar"><b>The page's own bar</b><i></i><i></i><i></i></div>` : "") + words(["55%", "92%", "84%"]) + rooms + words(["96%", "88%", "94%", "41%"]) + long;
    document.getElementById("page")!.replaceChildren(page);
    page.querySelector(".stage")!.id = "stage";
  }
  return [...document.querySelectorAll<HTMLElement>(".stage")];
}
