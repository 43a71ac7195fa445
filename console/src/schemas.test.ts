import Ajv from "ajv/dist/2020";
import formats from "ajv-formats";
import { describe, expect, it } from "vitest";

type Schema = { default?: unknown; properties?: Record<string, Schema>; items?: Schema; $schema?: string };

const shipped = import.meta.glob<Schema>("../../widgets/*/settings.json", { eager: true, import: "default" });

// The settings of the widgets that ship are plain JSON Schema to a validator that is not ours, at
// its strictest; and their defaults are values that it takes.
describe("shipped schemas", () => {
  expect(Object.keys(shipped).length).toBeGreaterThan(7);
  for (const [file, schema] of Object.entries(shipped)) {
    it(file, () => {
      const ajv = new Ajv({ strict: true, allErrors: true });
      formats(ajv);
      ajv.addKeyword("glass");
      ajv.compile(schema);
      let defaults = 0;
      const walk = (at: Schema, path: string) => {
        if ("default" in at) {
          defaults++;
          const takes = ajv.compile({ ...at, $schema: undefined });
          expect(takes(at.default), `${path}: ${JSON.stringify(takes.errors)}`).toBe(true);
        }
        for (const [key, inner] of Object.entries(at.properties ?? {})) walk(inner, `${path}/${key}`);
        if (at.items) walk(at.items, `${path}/items`);
      };
      walk(schema, "");
      expect(defaults).toBeGreaterThan(3);
    });
  }
});
