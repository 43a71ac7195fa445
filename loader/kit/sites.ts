// Shows a pocket on its customer's sites only. It is not access control, because anybody can read
// the script; see docs/install.md, "Allowed sites".
import type { Global } from "../types";
import { bare } from "./bare";
import { hostOf, type Pocket, type Table } from "./types";

declare const glassPocket: Global;

export function allowed({ sites, local }: Pick<Table, "sites" | "local">, { host, hostname: name, port }: URL | Location) {
  for (const site of sites!) {
    const at = site.indexOf(":") < 0 ? name : port ? host : "";
    if (bare(at) == bare(site) || (site.startsWith("*.") && at.endsWith(site.slice(1)))) return true;
  }
  return local && /^(localhost|127\.0\.0\.1|\[::1\])$|\.(localhost|test)$/.test(name);
}

export function sites(pocket: Pocket, table: Table) {
  const { host, origin } = location;
  const { key } = table;
  if (origin == "null" || origin == table.from || allowed(table, location)) return; // frame-ancestors protects its own page
  const says = `does not show on ${host}, because this site is not listed. Add it under “Sites”. It shows within a minute.`;
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
