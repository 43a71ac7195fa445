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
let aside: HTMLTemplateElement | undefined;
const parsed = new Map<string, DocumentFragment>();

// Parsed once, in a document of its own, where nothing loads and where innerHTML speaks
// HTML even when the page is XHTML; each mount gets a copy.
function parse(markup: string) {
  let content = parsed.get(markup);
  if (!content) {
    const types = (window as any).trustedTypes;
    policy ||= types ? types.createPolicy("glass-pocket", { createHTML: (s: string) => s }) : { createHTML: (s: string) => s };
    aside ||= document.implementation.createHTMLDocument("").createElement("template");
    const template = aside.cloneNode() as HTMLTemplateElement;
    template.innerHTML = policy!.createHTML(markup);
    parsed.set(markup, (content = document.importNode(template.content, true)));
  }
  return content.cloneNode(true);
}

// Rules load a language's data when they are made, so they are made once, and only when
// a message has forms to choose from.
const rules = new Map<string, Intl.PluralRules>();

function say(payload: Payload, word: string, count = 0) {
  const forms = payload.messages[word] || { other: word };
  let form = "other";
  if (forms.one || forms.few || forms.many || forms.two || forms.zero) {
    let rule = rules.get(payload.language);
    if (!rule) rules.set(payload.language, (rule = new Intl.PluralRules(payload.language)));
    form = rule.select(count);
  }
  return (forms[form] ?? forms.other).replace("{count}", count + "");
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
  const { key, look } = payload;
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
  try {
    module?.((run) =>
      run({
        root: inner,
        settings: payload.settings,
        say: (word, count) => say(payload, word, count),
        now: () => Date.now() + behind,
        hide: (hidden) => void (host.hidden = hidden),
        signal: end.signal,
      }),
    );
  } catch (error) {
    report(g, key, `shows, but its script stopped: ${error}`);
  }
}
