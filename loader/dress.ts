// Gives a root its stylesheets: constructable ones, which all roots share and a strict
// Content-Security-Policy allows. Older browsers get style elements.
const sheets: Record<string, CSSStyleSheet> = {};

export function dress(root: ShadowRoot, texts: string[]) {
  try {
    root.adoptedStyleSheets = texts.map((text) => {
      if (!sheets[text]) (sheets[text] = new CSSStyleSheet()).replaceSync(text);
      return sheets[text];
    });
  } catch {
    for (const text of texts) root.appendChild(document.createElement("style")).textContent = text;
  }
}

// The first stylesheet of every pocket. The page's rules lose against :host with !important, which
// covers everything that could hide, enlarge, colour or animate the widget. The page decides the
// widget's place and width, and keeps the min-height that it reserved. Inherited properties of the
// page end at the inner element.
const against =
  "display:block;visibility:visible;opacity:1;overflow:visible;height:auto;max-height:none;padding:0;border:0;outline:0;background:none;box-shadow:none;filter:none;mask:none;clip-path:none;transform:none;translate:none;rotate:none;scale:none;zoom:1;animation:none;transition:none;columns:auto;contain:none;writing-mode:horizontal-tb;text-decoration:none;";
export const frame = `:host{${against.split(";").join("!important;")}}:host([hidden]){display:none!important}.pocket{all:initial;display:block}`;
