// Overrides by the page, data-set-NAME="…", that only the service can render. The pocket stays
// hidden until they are applied, so that nobody sees it change. The request itself is in
// ../asked.ts, which is loaded for the first mount point that has one.
import { hostOf, pointOf, type Pocket, type Table } from "./types";

declare const glassPocket: { live: Map<Element, { key: string; payload?: { release?: string } }> };

export function asked(pocket: Pocket, { asked, from }: Table, on: () => void) {
  const point = pointOf(pocket);
  const names: string[] = [];
  for (const name of asked!) if (point.hasAttribute("data-set-" + name)) names.push(name);
  if (!names.length) return on();
  const { root, signal } = pocket;
  const mine = glassPocket.live.get(hostOf(pocket));
  if (!mine) return on(); // the loader is older than this script
  const tell = (what: unknown) => console.error(`Glass Pocket: “${mine.key}” ${what}`);
  root.style.visibility = "hidden";
  import(from + "/asked.js")
    .then((module) => module.ask(pocket, point, names, mine))
    .catch((why) => tell(`cannot use the values that the page sets: ${why?.message || why}`))
    .then(() => {
      if (signal.aborted) return; // removed, or mounted again
      root.style.visibility = "";
      on();
    })
    .catch((error) => tell(`shows, but its script stopped: ${error}`));
}
