// Places in JSON files, by their path of keys.
import { jsonLanguage } from "@codemirror/lang-json";

export interface Range {
  from: number;
  to: number;
}

// The range of a property with its key; null if it is missing.
export function propertyAt(source: string, keys: string[]): Range | null {
  let node = jsonLanguage.parser.parse(source).topNode.firstChild;
  for (let i = 0; i < keys.length; i++) {
    let found = null;
    for (const property of node?.getChildren("Property") ?? []) {
      const name = property.firstChild!;
      if (source.slice(name.from, name.to) == JSON.stringify(keys[i])) found = property;
    }
    if (!found) return null;
    if (i == keys.length - 1) return { from: found.from, to: found.to };
    node = found.lastChild;
  }
  return null;
}
