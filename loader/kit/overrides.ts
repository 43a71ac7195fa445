// Overrides by a mount point, data-set-NAME="…": checked like any setting, applied here, and never
// sent. An invalid one is reported once and has no effect.
import { pointOf, type Override, type Pocket, type Table } from "./types";

export function overrides(pocket: Pocket, table: Table) {
  const { root } = pocket;
  const settings = (pocket.settings = { ...pocket.settings }); // shared with the other copies
  const point = pointOf(pocket);
  for (const o of table.overrides!) {
    const given = point.getAttribute("data-set-" + o.name);
    if (given == null) continue;
    const value = read(o, given.trim());
    if (value === undefined) {
      console.error(`Glass Pocket: “${table.key}” cannot use data-set-${o.name}="${given}"; it keeps its own.`);
      continue;
    }
    if (o.mount) settings[o.key] = value;
    if (o.as == "attribute") root.setAttribute("data-" + o.name, value + "");
    else if (o.as) {
      if (value == "inherit") {
        root.style.setProperty("--" + o.name, "initial");
        root.style.setProperty(o.inherit!, "inherit");
      } else {
        if (o.inherit) root.style.removeProperty(o.inherit);
        root.style.setProperty("--" + o.name, (o.names?.[value as string] ?? value) + (o.unit || ""), "important");
      }
    } else for (const at of root.querySelectorAll(`[data-text="${o.key}"]`)) at.textContent = value + "";
  }
}

function read(o: Override, given: string): unknown {
  if (o.inherit && given == "inherit") return given;
  const fits = (n: number) => n >= (o.least ?? -1e9) && n <= (o.most ?? 1e9) && (!o.step || Math.abs(n / o.step - Math.round(n / o.step)) < 1e-6);
  switch (o.type) {
    case "number":
      return given && fits(+given) ? +given : undefined;
    case "length": {
      const part = /^(-?[\d.]{1,9})([a-z%]{1,2})$/.exec(given);
      return part && o.of!.indexOf(part[2]) >= 0 && fits(+part[1]) ? given : undefined;
    }
    case "colour":
      return /^#([\da-f]{3}|[\da-f]{6}([\da-f]{2})?)$/i.test(given) ? given.toLowerCase() : undefined;
    case "switch":
      return given == "true" || (given == "false" ? false : undefined);
    case "text":
      return given.length <= o.most! ? given : undefined;
  }
  return o.of!.indexOf(given) >= 0 ? given : undefined;
}
