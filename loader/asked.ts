// Requests a pocket with the page's overrides from the service, and replaces the rendering with the
// response. It sends nothing but those values.
import { dress, frame } from "./dress";
import { fonts } from "./kit/fonts";
import { place } from "./kit/place";
import type { Pocket } from "./kit/types";
import type { Payload } from "./types";

declare const __BASE__: string;

const most = { names: 8, bytes: 512, wait: 5000 };

export async function ask(pocket: Pocket, point: Element, names: string[], mine: { key: string; payload?: Payload }) {
  const { root, signal } = pocket;
  const query = new URLSearchParams();
  for (const name of names.sort()) query.append(name, point.getAttribute("data-set-" + name)!.trim());
  if (names.length > most.names || `${query}`.length > most.bytes) throw `it takes at most ${most.names} settings and ${most.bytes} bytes`;

  const end = new AbortController();
  const late = setTimeout(() => end.abort(), most.wait);
  signal.addEventListener("abort", () => end.abort());
  let answer: Response;
  let payload: Payload & { detail?: string; hint?: string };
  try {
    answer = await fetch(`${__BASE__}/s/${mine.key}.json?${query}`, { credentials: "omit", signal: end.signal });
    payload = await answer.json();
  } catch {
    if (signal.aborted) return; // the mount point is gone
    throw `the service at ${__BASE__} has not answered`;
  } finally {
    clearTimeout(late);
  }
  if (!answer.ok) throw `${payload.detail} ${payload.hint}`;
  // The script on the page belongs to the release on the page.
  if (payload.release != mine.payload?.release) throw "a new release is out; reload the page";
  if (signal.aborted) return;

  const { attributes: wide, properties } = payload.look;
  const small = payload.small && matchMedia(payload.small.screen).matches ? payload.small : undefined;
  const { markup, attributes, settings } = small ?? { ...payload, attributes: wide };
  place(root, markup);
  for (const name of Object.keys(attributes)) root.setAttribute(name, attributes[name]);
  for (const name of Object.keys(properties)) root.style.setProperty(name, properties[name]);
  const shadow = root.getRootNode() as ShadowRoot;
  shadow.replaceChildren(root); // without style elements
  dress(shadow, [frame, payload.style]);
  fonts(pocket, payload.look);
  pocket.settings = settings;
}
