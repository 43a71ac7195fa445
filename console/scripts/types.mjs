// Writes src/api/types.ts from the service's OpenAPI document (on standard input).
import { readFileSync, writeFileSync } from "node:fs";

const { components } = JSON.parse(readFileSync(0, "utf8"));
const reference = (r) => r.split("/").pop();

function type(s) {
  if (s.$ref) return reference(s.$ref);
  switch (s.type) {
    case "array":
      return `${type(s.items)}[]`;
    case "object":
      return s.additionalProperties ? `Record<string, ${type(s.additionalProperties)}>` : "Record<string, unknown>";
    case "integer":
    case "number":
      return "number";
    case "string":
    case "boolean":
      return s.type;
    default:
      return "unknown";
  }
}

const parts = ["// Made from the OpenAPI document by scripts/types.mjs; not to be edited."];
for (const [name, s] of Object.entries(components.schemas)) {
  const lines = Object.entries(s.properties).map(([key, p]) => `  ${key}${s.required?.includes(key) ? "" : "?"}: ${type(p)};`);
  parts.push(`export interface ${name} {\n${lines.join("\n")}\n}`);
}
writeFileSync(new URL("../src/api/types.ts", import.meta.url), parts.join("\n\n") + "\n");
