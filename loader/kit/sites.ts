// Shows a pocket on its customer's sites only. It is no lock: the script is in the hands of
// whoever reads it; see docs/install.md, "Allowed sites".
import type { Global } from "../types";
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: Global;

export function sites(pocket: Pocket, { sites, local, key, from }: Table) {
  const { host, hostname: name, port, origin } = location;
  if (origin == "null" || origin == from) return; // its own page, which frame-ancestors guards
  for (const site of sites!) {
    const at = site.indexOf(":") < 0 ? name : port ? host : "";
    if (at == site || (site.startsWith("*.") && at.endsWith(site.slice(1)))) return;
  }
  if (local && /^(localhost|127\.0\.0\.1|\[::1\])$|\.(localhost|test)$/.test(name)) return;
  const says = `is not for ${host}: its customer has not entered this site. Enter it under “Sites”, and it shows within a minute.`;
  const text = `Glass Pocket: “${key}” ${says}`;
  const at = hostOf(pocket);
  const mine = glassPocket.live.get(at);
  if (mine) mine.aside = `It ${says}`;
  pocket.root.replaceChildren();
  at.hidden = true;
  if (!glassPocket.said[text]) {
    glassPocket.said[text] = 1;
    console.error(text);
  }
  return false;
}
