// Converts look settings to CSS in the browser, with the same table as the service.
import table from "../../../internal/setting/css.json";
import type { Look, Setting } from "../api/types";

interface Row {
  as: string;
  write?: string;
  by?: string;
  cases?: Record<string, string>;
  names?: Record<string, string>;
  each?: { of?: string; write: string; join: string };
}

export const kebab = (key: string) => key.replace(/[A-Z]/g, (letter) => "-" + letter.toLowerCase());

function css(row: Row, value: unknown, unit: string): string {
  if (typeof value == "string" && row.names?.[value]) return row.names[value];
  const parts = (typeof value == "object" ? value : {}) as Record<string, unknown>;
  const template = row.by ? row.cases![String(parts[row.by])] : row.write!;
  return template.replace(/\{(\w+)\}/g, (_, name: string) => {
    switch (name) {
      case "value":
        return String(value);
      case "unit":
        return unit;
      case "each":
        return ((row.each!.of ? parts[row.each!.of] : value) as unknown[]).map((item) => css({ as: "", write: row.each!.write }, item, unit)).join(row.each!.join);
    }
    return String(parts[name]);
  });
}

// Whether a value can be converted here. Uploaded fonts and references to a brand need the service.
export function writable(setting: Setting, value: unknown): boolean {
  if (value instanceof Object && "brand" in value) return false;
  const names = (table as Record<string, Row>)[setting.type]?.names;
  return !names || value == "inherit" || String(value) in names;
}

// The look of settings with these values. Empty properties undo inheritance from the page.
export function lookOf(settings: Setting[], values: Record<string, unknown>): Look {
  const look: Look = { properties: {}, attributes: {} };
  for (const s of settings) {
    const value = values[s.key];
    const row = (table as Record<string, Row>)[s.type];
    if (!s.look || !row || value === undefined || value === null) continue;
    const name = kebab(s.key);
    if (s.inherit && value == "inherit") {
      look.properties[`--${name}`] = "initial";
      look.properties[s.inherit] = "inherit";
      continue;
    }
    if (s.inherit) look.properties[s.inherit] = "";
    const written = css(row, value, s.unit ?? "");
    if (row.as == "property") look.properties[`--${name}`] = written;
    else look.attributes[`data-${name}`] = written;
  }
  return look;
}
