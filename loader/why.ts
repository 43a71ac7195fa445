// The report that a page's owner sees after adding #glass-pocket-why to its address: every pocket in
// the page, why it shows or not, and its cost. Loaded only then.
import { dress } from "./dress";
import { attribute } from "./find";
import { css } from "./why.style";
import type { Global, Instance, Payload } from "./types";

declare const __BASE__: string;

interface Finding {
  key: string;
  state: "shown" | "hidden" | "missing";
  says: string; // a sentence
  rows: [string, string][];
}

const g = () => (window as unknown as { glassPocket: Global }).glassPocket;
const shifts: { startTime: number; value: number }[] = [];
const unknown = "not available in this browser";
// Not every engine measures it, and an observer of an unknown type stays silent.
const measuresShift = !!PerformanceObserver.supportedEntryTypes?.includes("layout-shift");
if (measuresShift) {
  new PerformanceObserver((list) => {
    for (const entry of list.getEntries() as any) if (!entry.hadRecentInput) shifts.push(entry);
  }).observe({ type: "layout-shift", buffered: true });
}

function ago(milliseconds: number) {
  const minutes = Math.round(milliseconds / 6e4);
  if (minutes < 1) return "less than a minute";
  if (minutes < 120) return `${minutes} minute${minutes == 1 ? "" : "s"}`;
  return minutes < 2880 ? `${Math.round(minutes / 60)} hours` : `${Math.round(minutes / 1440)} days`;
}

const bytes = (n: number) => `${n.toLocaleString("en")} bytes`;

const named = (e: Element) => `<${e.localName}${e.id ? " id=" + e.id : ""}${typeof e.className == "string" && e.className ? " class=" + e.className.trim().split(/\s+/)[0] : ""}>`;

// The element, or one around it, that the page's own rules hide.
function hider(at: Element) {
  for (let e: Element | null = at; e; e = e.parentElement || ((e.getRootNode() as ShadowRoot).host ?? null)) {
    const style = getComputedStyle(e);
    if (style.display == "none") return `${named(e)} has display: none`;
    if (style.visibility == "hidden") return `${named(e)} has visibility: hidden`;
    if (style.opacity == "0") return `${named(e)} has opacity: 0`;
  }
}

// The visible part of a widget above the page.
function over(host: Element) {
  for (const e of host.shadowRoot?.querySelectorAll(".pocket *") ?? []) {
    const { width, height } = e.getBoundingClientRect();
    if (width && height && getComputedStyle(e).position == "fixed") return e;
  }
}

function place(instance: Instance): Pick<Finding, "state" | "says"> {
  const { host, key, aside } = instance;
  if (aside) return { state: "hidden", says: aside };
  if (host.hidden) return { state: "hidden", says: "Its widget shows nothing at the moment. It may have ended, or not started yet." };
  const by = hider(host);
  if (by) return { state: "hidden", says: `The page hides it: ${by}.` };
  if (over(host)) return { state: "shown", says: "Shown, floating over the page." };
  if (host.shadowRoot?.querySelector("dialog")) return { state: "hidden", says: "It is not open yet, or a visitor has closed it. Its settings say when it opens and how long it stays closed." };
  const shownBy = [...g().live.values()].find((other) => other.key == key && over(other.host));
  if (shownBy) return { state: "hidden", says: "Another copy of it is already shown. Floating widgets show once per page." };
  const box = host.getBoundingClientRect();
  if (!box.width || !box.height) return { state: "hidden", says: "The page gives it no space: its size is " + Math.round(box.width) + " by " + Math.round(box.height) + " pixels." };
  if (box.top > innerHeight) return { state: "shown", says: "Shown, further down the page." };
  if (box.bottom < 0) return { state: "shown", says: "Shown, further up the page." };
  return { state: "shown", says: "Shown." };
}

// The service's live version, bypassing every cache.
async function service(key: string): Promise<{ payload?: Payload; says?: string }> {
  try {
    const answer = await fetch(`${__BASE__}/s/${encodeURIComponent(key)}.json`, { cache: "reload", credentials: "omit" });
    const body = await answer.json();
    return answer.ok ? { payload: body } : { says: body.detail || `The service answered ${answer.status}.` };
  } catch {
    return { says: `The service at ${__BASE__} does not answer. It may be down, or the page's Content-Security-Policy may lack “connect-src ${__BASE__}”.` };
  }
}

const since = (at: string) => ago(Date.now() - Date.parse(at));

// How current the items are that come from elsewhere.
async function ages(key: string): Promise<[string, string][]> {
  try {
    const answer = await fetch(`${__BASE__}/ages/${encodeURIComponent(key)}`, { credentials: "omit" });
    const { sources } = (await answer.json()) as { sources: { checkedAt?: string; changedAt?: string; since?: string; why?: string }[] };
    return sources.map((s, i) => {
      const changed = s.changedAt ? `changed ${since(s.changedAt)} ago` : "";
      const says = s.since ? [`${s.why} Not reached for ${since(s.since)}`, changed && `the items shown ${changed}`] : [s.checkedAt && `checked ${since(s.checkedAt)} ago`, changed];
      return [sources.length > 1 ? `Source ${i + 1}` : "Source", says.filter(Boolean).join(", ") || "an uploaded file"];
    });
  } catch {
    return []; // the line about the service says what is wrong
  }
}

function cost(key: string): [string, string][] {
  const [entry] = performance.getEntriesByName(`${__BASE__}/s/${key}.js`) as PerformanceResourceTiming[];
  if (!entry) return [];
  // WebKit reports 0 as the size of scripts from other origins, whatever they allow.
  const way = entry.transferSize ? "over the network" : "from the browser's cache";
  return [["Bytes", entry.encodedBodySize ? `${bytes(entry.encodedBodySize)} ${way}, ${bytes(entry.decodedBodySize)} uncompressed` : unknown], ["Loaded in", `${Math.round(entry.duration)} ms`]];
}

async function look(key: string, instances: Instance[]): Promise<Finding[]> {
  const [live, items] = await Promise.all([service(key), ages(key)]);
  const fresh: [string, string][] = live.payload
    ? [["On the service", `publication ${live.payload.publication}, ${published(live.payload)}`]]
    : [["On the service", live.says!]];
  if (!instances.length) {
    let says = live.payload
      ? "Its script has not run. It may still be loading, or the page or an extension may block it. Check the browser's console."
      : live.says!;
    for (const text of Object.keys(g().said)) if (text.includes(`“${key}”`)) says = text.replace("Glass Pocket: ", "");
    return [{ key, state: "missing", says, rows: [...fresh, ...items, ...cost(key)] }];
  }
  return instances.map((instance) => {
    const { payload, at = 0, took = 0, host } = instance;
    const rows: [string, string][] = [];
    const { state, says } = place(instance);
    let more = "";
    if (payload) {
      rows.push(["On this page", `publication ${payload.publication}, ${published(payload)}`]);
      if (live.payload && live.payload.publication > payload.publication) more = " This is an older publication from a cache. It is replaced within a minute of the next request.";
    }
    rows.push(...fresh, ...items);
    const shift = shifts.reduce((sum, s) => (s.startTime >= at && s.startTime < at + took + 500 ? sum + s.value : sum), 0);
    const box = (over(host) || host).getBoundingClientRect();
    rows.push(...cost(key), ["Mounted in", `${took.toFixed(1)} ms`], ["Layout shift", measuresShift ? shift.toFixed(3) : unknown], ["Size", `${Math.round(box.width)} × ${Math.round(box.height)} pixels`]);
    return { key, state, says: says + more, rows };
  });
}

const published = (p: Payload) => (p.published ? `published ${ago(Date.now() - p.published)} ago` : "on an unknown date");

function keys() {
  const found = new Map<string, Instance[]>();
  for (const at of document.querySelectorAll(`[${attribute}]`)) found.set(at.getAttribute(attribute)!, []);
  for (const tag of document.querySelectorAll<HTMLScriptElement>("script[src]")) {
    const key = tag.src.startsWith(__BASE__ + "/s/") && tag.src.slice(__BASE__.length + 3).replace(/\.js.*$/, "");
    if (key) found.set(key, []);
  }
  for (const key of g().pockets?.keys() ?? []) found.set(key, []);
  for (const instance of new Set(g().live?.values() ?? [])) found.set(instance.key, [...(found.get(instance.key) ?? []), instance]);
  return found;
}

function element<K extends keyof HTMLElementTagNameMap>(name: K, text = "", attributes: Record<string, string> = {}) {
  const e = document.createElement(name);
  e.textContent = text;
  for (const [k, v] of Object.entries(attributes)) e.setAttribute(k, v);
  return e;
}

let panel: HTMLElement | undefined;

async function show() {
  panel?.remove();
  const host = (panel = element("div"));
  const root = host.attachShadow({ mode: "open" });
  dress(root, [css]);
  const box = element("section", "", { role: "dialog", "aria-labelledby": "title", lang: "en", dir: "ltr", tabindex: "-1" });
  const head = element("header");
  const close = element("button", "Close");
  const copy = element("button", "Copy as text");
  head.append(element("h2", "Pockets on this page", { id: "title" }), copy, close);
  const list = element("div", "Checking…", { class: "list", role: "status" });
  box.append(head, list);
  root.append(box);
  document.documentElement.append(host);
  const end = () => {
    host.remove();
    history.replaceState(history.state, "", location.href.slice(0, -"#glass-pocket-why".length));
  };
  close.onclick = end;
  box.onkeydown = (event) => event.key == "Escape" && end();
  box.focus();

  const found = (await Promise.all([...keys()].map(([key, instances]) => look(key, instances)))).flat();
  list.textContent = "";
  if (!found.length) list.append(element("p", "This page has no pockets: there is no mount point and no script of this service.", { class: "says" }));
  for (const finding of found) {
    const card = element("article", "", { "data-state": finding.state });
    card.append(element("h3", finding.key), element("p", finding.says, { class: "says" }));
    const rows = element("dl");
    for (const [name, value] of finding.rows) rows.append(element("dt", name), element("dd", value));
    card.append(rows);
    list.append(card);
  }
  list.append(element("p", `Loader ${g().n || "not running"}, from ${__BASE__}`, { class: "foot" }));
  copy.onclick = () => {
    const text = found.map((f) => [f.key, f.says, ...f.rows.map((row) => row.join(": "))].join("\n")).join("\n\n");
    navigator.clipboard.writeText(`${location.href}\n\n${text}\n`).then(
      () => (copy.textContent = "Copied"),
      () => (copy.textContent = "The browser refused to copy"),
    );
  };
}

addEventListener("hashchange", () => location.hash.endsWith("#glass-pocket-why") && show());
show();
