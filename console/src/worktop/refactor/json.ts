// Changes JSON files and keeps everything else in them as written: order, indentation, line breaks.
import { jsonLanguage } from "@codemirror/lang-json";
import type { SyntaxNode } from "@lezer/common";
import type { Edit } from "./edit";

// Cached, because one change reads the same few texts many times.
const trees = new Map<string, SyntaxNode | null>();

function top(source: string): SyntaxNode | null {
  let node = trees.get(source);
  if (node === undefined) {
    if (trees.size >= 16) trees.clear();
    trees.set(source, (node = jsonLanguage.parser.parse(source).topNode.firstChild));
  }
  return node;
}

function nameOf(source: string, property: SyntaxNode): string {
  try {
    return JSON.parse(source.slice(property.firstChild!.from, property.firstChild!.to)) as string;
  } catch {
    return "";
  }
}

function member(source: string, object: SyntaxNode | null, key: string): SyntaxNode | null {
  return object?.getChildren("Property").find((p) => nameOf(source, p) == key) ?? null;
}

// The value at a path of keys.
export function valueNode(source: string, path: string[]): SyntaxNode | null {
  let node: SyntaxNode | null = top(source);
  for (const key of path) node = member(source, node, key)?.lastChild ?? null;
  return node;
}

export function keysAt(source: string, path: string[]): string[] {
  return valueNode(source, path)?.getChildren("Property").map((p) => nameOf(source, p)) ?? [];
}

const lineIndent = (source: string, at: number) => /^[ \t]*/.exec(source.slice(source.lastIndexOf("\n", at - 1) + 1, at))![0];

// Adds a property at the end of an object, or after another property.
export function addProperty(source: string, path: string[], key: string, value: string, after?: string): Edit | null {
  const object = valueNode(source, path);
  if (object?.name != "Object") return null;
  const properties = object.getChildren("Property");
  const written = `${JSON.stringify(key)}: ${value}`;
  if (properties.length == 0) {
    const indent = lineIndent(source, object.from);
    return { from: object.from + 1, to: object.to - 1, insert: `\n${indent}  ${written}\n${indent}` };
  }
  const before = properties.find((p) => nameOf(source, p) == after) ?? properties[properties.length - 1];
  const separate = /\n/.test(source.slice(object.from, properties[0].from));
  const gap = separate ? `\n${lineIndent(source, properties[0].from)}` : " ";
  return { from: before.to, to: before.to, insert: `,${gap}${separate ? written.replace(/\n/g, gap) : written}` };
}

// Removes a property with its comma.
export function removeProperty(source: string, path: string[], key: string): Edit | null {
  const object = valueNode(source, path);
  const property = member(source, object, key);
  if (!object || !property) return null;
  const properties = object.getChildren("Property");
  const i = properties.findIndex((p) => p.from == property.from);
  if (properties.length == 1) return { from: object.from + 1, to: object.to - 1, insert: "" };
  if (i + 1 < properties.length) return { from: property.from, to: properties[i + 1].from, insert: "" };
  return { from: properties[i - 1].to, to: property.to, insert: "" };
}

export function renameProperty(source: string, path: string[], key: string, name: string): Edit | null {
  const property = member(source, valueNode(source, path), key);
  const at = property?.firstChild;
  return at ? { from: at.from, to: at.to, insert: JSON.stringify(name) } : null;
}

export function textOf(source: string, path: string[], key: string): string | null {
  const value = member(source, valueNode(source, path), key)?.lastChild;
  return value ? source.slice(value.from, value.to) : null;
}

// The elements of an array that equal a text.
export function elementsLike(source: string, path: string[], text: string): Edit[] {
  const array = valueNode(source, path);
  if (array?.name != "Array") return [];
  return array
    .getChildren("String")
    .filter((n) => source.slice(n.from, n.to) == JSON.stringify(text))
    .map((n) => ({ from: n.from, to: n.to, insert: "" }));
}

// Removes a text from an array, with its comma.
export function removeElement(source: string, path: string[], text: string): Edit[] {
  const array = valueNode(source, path);
  if (array?.name != "Array") return [];
  const all = array.getChildren("String");
  const i = all.findIndex((n) => source.slice(n.from, n.to) == JSON.stringify(text));
  if (i < 0) return [];
  if (all.length == 1) return [{ from: all[i].from, to: all[i].to, insert: "" }];
  return [i + 1 < all.length ? { from: all[i].from, to: all[i + 1].from, insert: "" } : { from: all[i - 1].to, to: all[i].to, insert: "" }];
}

export function addElement(source: string, path: string[], text: string): Edit | null {
  const array = valueNode(source, path);
  if (array?.name != "Array") return null;
  const all = array.getChildren("String");
  const last = all[all.length - 1];
  return last ? { from: last.to, to: last.to, insert: `, ${JSON.stringify(text)}` } : { from: array.from + 1, to: array.to - 1, insert: JSON.stringify(text) };
}
