import { exact, notBefore, now } from "./clock";
import { dress, frame } from "./dress";
import { load } from "./load";
import { memory } from "./memory";
import { report } from "./report";
import type { Global, Instance, Module, Payload } from "./types";

// The page's one Trusted Types policy. A page may refuse it and take plain text all the same.
function policy(): Global["html"] {
  const rules = { createHTML: (s: string) => s };
  try {
    return (window as any).trustedTypes.createPolicy("glass-pocket", rules);
  } catch {
    return rules;
  }
}

let aside: HTMLTemplateElement | undefined;
const drawn = new WeakMap<Payload, HTMLElement>();

// Made once, each mount gets a copy. The markup is parsed in a document of its own, where
// nothing loads and where innerHTML speaks HTML even when the page is XHTML.
function draw(g: Global, payload: Payload) {
  let inner = drawn.get(payload);
  if (!inner) {
    g.html ||= policy();
    aside ||= document.implementation.createHTMLDocument("").createElement("template");
    const template = aside.cloneNode() as HTMLTemplateElement;
    template.innerHTML = g.html!.createHTML(payload.markup);
    inner = document.createElement("div");
    inner.className = "pocket";
    inner.lang = payload.language;
    inner.dir = payload.direction;
    for (const [name, value] of Object.entries(payload.look.attributes)) inner.setAttribute(name, value);
    for (const [name, value] of Object.entries(payload.look.properties)) inner.style.setProperty(name, value);
    inner.append(document.importNode(template.content, true));
    drawn.set(payload, inner);
  }
  return inner.cloneNode(true) as HTMLElement;
}

// Rules load a language's data when they are made, so they are made once, and only when
// a message has forms to choose from.
const rules = new Map<string, Intl.PluralRules>();

function say(payload: Payload, word: string, count = 0) {
  const forms = payload.messages[word] || { other: word };
  let form = "other";
  if (Object.keys(forms)[1]) {
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
  const began = performance.now();
  const { key, language, settings } = payload;
  let inner: HTMLElement;
  // Before anything in the page changes: its fallback stays if this fails.
  try {
    inner = draw(g, payload);
  } catch (error) {
    return report(g, key, `could not be shown; its fallback stays: ${error}${/Trusted/.test(error + "") ? " The page's Content-Security-Policy must list glass-pocket in trusted-types." : ""}`);
  }
  const [host, root] = bear(at);
  const end = new AbortController();
  const { signal } = end;
  const instance: Instance = { key, host, own, end, payload, at: began };
  g.live.set(at, instance);
  if (host != at) g.live.set(host, instance);

  root.replaceChildren(inner);
  dress(root, [frame, payload.style]);

  notBefore(g, payload.built);
  try {
    module?.((run) =>
      run({
        root: inner,
        settings,
        language,
        say: (word, count) => say(payload, word, count),
        now: () => now(g),
        exact: (tick) => exact(g, () => load("exact"), tick, signal),
        memory: memory(instance),
        hide: (hidden) => void (host.hidden = hidden),
        signal,
      }),
    );
  } catch (error) {
    report(g, key, `shows, but its script stopped: ${error}`);
  }
  instance.took = performance.now() - began;
}
