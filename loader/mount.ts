import { exact, notBefore, now } from "./clock";
import { dress, frame } from "./dress";
import { load } from "./load";
import { memory } from "./memory";
import { report } from "./report";
import type { Global, Instance, Module, Payload } from "./types";

const drawn = new WeakMap<Payload, HTMLElement>();

// Made once; each mount gets a copy. The markup is parsed in a separate document, where nothing
// loads and innerHTML means HTML even if the page is XHTML.
function draw(g: Global, payload: Payload) {
  let inner = drawn.get(payload);
  if (!inner) {
    const rules = { createHTML: (s: string) => s };
    // The page's only Trusted Types policy. A page may refuse it and still accept plain text.
    try {
      g.html ||= (window as any).trustedTypes.createPolicy("glass-pocket", rules);
    } catch {
      g.html = rules;
    }
    const template = document.implementation.createHTMLDocument("").createElement("template");
    template.innerHTML = g.html!.createHTML(payload.markup);
    inner = document.createElement("div");
    inner.className = "pocket";
    inner.lang = payload.language;
    inner.dir = payload.direction;
    for (const [name, value] of Object.entries(payload.look.attributes)) inner.setAttribute(name, value);
    for (const [name, value] of Object.entries(payload.look.properties)) inner.style.setProperty(name, value);
    inner.append(template.content);
    drawn.set(payload, inner);
  }
  return inner.cloneNode(true) as HTMLElement;
}

// Creating rules loads a language's data, so they are created once, and only for a message with
// several forms.
const rules: Record<string, Intl.PluralRules> = {};

function say(payload: Payload, word: string, count = 0) {
  const forms = payload.messages[word] || { other: word };
  let form = "other";
  if (Object.keys(forms)[1]) form = (rules[payload.language] ||= new Intl.PluralRules(payload.language)).select(count);
  return (forms[form] ?? forms.other).replace("{count}", count + "");
}

// The element with the shadow root: the mount point itself if it can have one, so that the page's
// rules for nested elements do not match it.
function bear(at: HTMLElement): HTMLElement {
  try {
    at.shadowRoot || at.attachShadow({ mode: "open" });
    return at;
  } catch {
    const host = document.createElement("div");
    at.localName == "a" ? at.replaceWith(host) : at.replaceChildren(host);
    host.attachShadow({ mode: "open" });
    return host;
  }
}

export function mount(g: Global, at: HTMLElement, own: boolean, payload: Payload, module?: Module) {
  const began = performance.now();
  const { key, language, settings } = payload;
  let inner: HTMLElement;
  // Before anything in the page changes: if this fails, the fallback stays.
  try {
    inner = draw(g, payload);
  } catch (error) {
    return report(g, key, `could not be shown. Its fallback stays. Check the Content-Security-Policy. ${error}`);
  }
  const host = bear(at);
  const root = host.shadowRoot!;
  const end = new AbortController();
  const { signal } = end;
  const instance: Instance = { key, host, own, end, payload, at: began };
  // Not the replaced host, because nobody would ever remove it.
  g.live.set(host, instance);
  if (at.isConnected) g.live.set(at, instance);

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
