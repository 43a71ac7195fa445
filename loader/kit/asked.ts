// Settings that the page gives other values, data-set-NAME="…", and that only the service
// can put in place. The pocket stays out of sight until they are, so that nobody sees it
// change; how they are asked for lies in ../asked.ts, which is fetched when a mount point
// first has one.
import { hostOf, pointOf, type Pocket, type Table } from "./types";

declare const glassPocket: { live: Map<Element, { key: string; payload?: { release?: string } }> };

export function asked(pocket: Pocket, { asked, from }: Table, on: () => void) {
  const point = pointOf(pocket);
  const names: string[] = [];
  for (const name of asked!) if (point.hasAttribute("data-set-" + name)) names.push(name);
  if (!names.length) return on();
  const { root, signal } = pocket;
  const mine = glassPocket.live.get(hostOf(pocket));
  if (!mine) return on(); // a loader that is older than this script
  const tell = (what: unknown) => console.error(`Glass Pocket: “${mine.key}” ${what}`);
  root.style.visibility = "hidden";
  import(from + "/asked.js")
    .then((module) => module.ask(pocket, point, names, mine))
    .catch((why) => tell(`cannot use the values that the page sets: ${why?.message || why}`))
    .then(() => {
      if (signal.aborted) return; // gone, or begun anew
      root.style.visibility = "";
      on();
    })
    .catch((error) => tell(`shows, but its script stopped: ${error}`));
}
