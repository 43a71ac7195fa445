import { report } from "./report";
import type { Global, Instance, Module, Payload } from "./types";

// The page's rules lose against :host with !important; what the page sets by inheritance
// ends at the inner element. The reserved min-height stands on the host and stays.
const frame = ":host{display:block!important}:host([hidden]){display:none!important}.pocket{all:initial;display:block}";

const sheets = new Map<string, CSSStyleSheet>();

function sheet(text: string) {
  let made = sheets.get(text);
  if (!made) {
    made = new CSSStyleSheet();
    made.replaceSync(text);
    sheets.set(text, made);
  }
  return made;
}

let policy: { createHTML(markup: string): string } | undefined;

// Parsed in a document of its own, where nothing loads and where innerHTML speaks HTML
// even when the page is XHTML.
function parse(markup: string) {
  const types = (window as any).trustedTypes;
  policy ||= types ? types.createPolicy("glass-pocket", { createHTML: (s: string) => s }) : { createHTML: (s: string) => s };
  const template = document.implementation.createHTMLDocument("").createElement("template");
  template.innerHTML = policy!.createHTML(markup);
  return document.importNode(template.content, true);
}

// The element that bears the root: the mount point itself where it can, so that a page's
// rules for nested elements do not reach it.
function bear(at: HTMLElement): [HTMLElement, ShadowRoot] {
  if (at.shadowRoot) return [at, at.shadowRoot];
  try {
    return [at, at.attachShadow({ mode: "open" })];
  } catch {
    const host = document.createElement("div");
    at.localName == "a" ? at.replaceWith(host) : at.replaceChildren(host);
    return [host, host.attachShadow({ mode: "open" })];
  }
}

export function mount(g: Global, at: HTMLElement, own: boolean, payload: Payload, module?: Module) {
  const { key, look, messages } = payload;
  const content = parse(payload.markup);
  const [host, root] = bear(at);
  const end = new AbortController();
  const instance: Instance = { key, host, own, end };
  g.live.set(at, instance);
  if (host != at) g.live.set(host, instance);

  const inner = document.createElement("div");
  inner.className = "pocket";
  inner.lang = payload.language;
  inner.dir = payload.direction;
  for (const name in look.attributes) inner.setAttribute(name, look.attributes[name]);
  for (const name in look.properties) inner.style.setProperty(name, look.properties[name]);
  inner.append(content);
  root.adoptedStyleSheets = [sheet(frame), sheet(payload.style)];
  root.replaceChildren(inner);

  // A clock that is behind the time at which this was rendered is certainly wrong.
  const behind = Math.max(0, payload.built - Date.now());
  const plural = new Intl.PluralRules(payload.language);
  try {
    module?.((run) =>
      run({
        root: inner,
        settings: payload.settings,
        say(word, count = 0) {
          const forms = messages[word] || { other: word };
          return (forms[plural.select(count)] ?? forms.other).replace("{count}", count + "");
        },
        now: () => Date.now() + behind,
        hide: (hidden) => void (host.hidden = hidden),
        signal: end.signal,
      }),
    );
  } catch (error) {
    report(g, key, `shows, but its script stopped: ${error}`);
  }
}
