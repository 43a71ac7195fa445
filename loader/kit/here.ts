// Shows a pocket at certain addresses only. It is hidden before the first paint where it does not
// show, and checked again whenever the page's address changes: a single-page application does not
// announce that, but it changes the document.
import type { Global } from "../types";
import { bare } from "./bare";
import { place } from "./place";
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: Global;

// The same as in internal/cue, with the same test cases.
const plain = (path: string) => path.replace(/\/index\.[a-z]{2,5}$/, "/").replace(/(.)\/$/, "$1") || "/";

function fits(rule: string, text: string) {
  const parts = rule.split("*");
  if (!parts[1] && parts.length == 1) return rule == text;
  if (!text.startsWith(parts[0])) return false;
  text = text.slice(parts[0].length);
  for (const part of parts.slice(1, -1)) {
    const at = text.indexOf(part);
    if (at < 0) return false;
    text = text.slice(at + part.length);
  }
  return text.endsWith(parts[parts.length - 1]);
}

function met(rule: string, { host, pathname, hash }: URL | Location) {
  const at = rule.search(/[/#]/);
  if (at && bare(rule.slice(0, at)) != bare(host)) return false;
  rule = rule.slice(at);
  if (rule[0] == "#") return fits(rule, hash);
  const path = plain(pathname);
  return (rule.endsWith("/*") && path == rule.slice(0, -2)) || fits(plain(rule), path);
}

export function shows({ only, not }: { only?: string[]; not?: string[] }, at: URL | Location) {
  let yes = !only;
  for (const rule of only || []) yes ||= met(rule, at);
  for (const rule of not || []) yes &&= !met(rule, at);
  return yes;
}

export function here(pocket: Pocket, table: Table, on: () => void) {
  if (location.origin == table.from) return on(); // its own page always shows it
  const { signal } = pocket;
  const host = hostOf(pocket);
  const mine = glassPocket.live.get(host);
  let end: AbortController | undefined;
  let ran = false;
  let was = "";
  const look = () => {
    if (was == location.href) return;
    was = location.href;
    const yes = shows(table.here!, location);
    if (mine) mine.aside = yes ? "" : "This pocket shows only at other addresses.";
    if (yes == !!end) return;
    end?.abort();
    end = undefined;
    host.hidden = !yes;
    if (!yes) return;
    // Mounts it again, because the old script has listeners on the old elements.
    if (ran && mine?.payload) place(pocket.root, mine.payload.markup);
    ran = true;
    end = new AbortController();
    pocket.signal = end.signal;
    on();
  };
  host.hidden = true; // until look decides
  look();
  const watch = new MutationObserver(look);
  watch.observe(document, { childList: true, subtree: true });
  addEventListener("popstate", look, { signal });
  addEventListener("hashchange", look, { signal });
  signal.addEventListener("abort", () => {
    watch.disconnect();
    end?.abort();
  });
}
