// A look setting's way to CSS, in the browser: the same table that the service reads.
import table from "../../../internal/setting/css.json";
import type { Look, Setting } from "../api/types";

type Row = { as: string; write: string };

export const kebab = (key: string) => key.replace(/[A-Z]/g, (letter) => "-" + letter.toLowerCase());

export function lookOf(settings: Setting[], values: Record<string, unknown>): Look {
  const look: Look = { properties: {}, attributes: {} };
  for (const s of settings) {
    const value = values[s.key];
    const row = (table as Record<string, Row>)[s.type];
    if (!s.look || !row || value === undefined || value === null) continue;
    const written = row.write.replace("{value}", String(value)).replace("{unit}", s.unit ?? "");
    if (row.as == "property") look.properties[`--${kebab(s.key)}`] = written;
    else look.attributes[`data-${kebab(s.key)}`] = written;
  }
  return look;
}
