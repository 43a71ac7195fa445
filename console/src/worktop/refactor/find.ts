// Finds the value at a place in a widget's files, and other occurrences of it.
import { cssLanguage } from "@codemirror/lang-css";
import { htmlLanguage } from "@codemirror/lang-html";
import { javascriptLanguage, typescriptLanguage } from "@codemirror/lang-javascript";
import type { SyntaxNode } from "@lezer/common";
import { asColour, asGradient, fromScript, fromStyle, fromText, type Inferred } from "./value";

export type Files = Record<string, string>;

export interface Occurrence {
  path: string;
  from: number;
  to: number;
  line: number;
  around: string; // its line
  likely: boolean; // probably means the same
  how: "style" | "view" | "script";
}

export interface Found {
  text: string;
  inferred: Inferred;
  label: string; // a suggestion
  places: Occurrence[]; // the selected one first
}

const lineOf = (text: string, at: number) => text.slice(0, at).split("\n").length;
const lineAt = (text: string, at: number) => {
  const end = text.indexOf("\n", at);
  return text.slice(text.lastIndexOf("\n", at - 1) + 1, end < 0 ? text.length : end).trim();
};

function occurrence(files: Files, path: string, from: number, to: number, how: Occurrence["how"], likely = true): Occurrence {
  return { path, from, to, line: lineOf(files[path], from), around: lineAt(files[path], from), likely, how };
}

// The value at a selection or cursor, or a sentence if nothing there can be a setting.
export function valueAt(files: Files, path: string, from: number, to: number): Found | string {
  if (path == "style.css") return inStyle(files, from, to);
  if (path == "view.html") return inView(files, from, to);
  if (/\.(ts|js)$/.test(path) && !path.endsWith(".d.ts")) return inScript(files, path, from, to);
  return "Select a value in the view, the stylesheet or the script.";
}

interface StyleValue {
  from: number;
  to: number;
  text: string;
  property: string;
  selector: string;
}

function styleValues(source: string): StyleValue[] {
  const list: StyleValue[] = [];
  cssLanguage.parser.parse(source).iterate({
    enter(ref) {
      if (ref.name != "Declaration") return;
      const property = source.slice(ref.node.firstChild!.from, ref.node.firstChild!.to);
      let block: SyntaxNode | null = ref.node.parent;
      while (block && block.name != "RuleSet") block = block.parent;
      const selector = block ? source.slice(block.from, block.getChild("Block")!.from).trim() : "";
      const add = (node: SyntaxNode) => list.push({ from: node.from, to: node.to, text: source.slice(node.from, node.to), property, selector });
      const visit = (node: SyntaxNode) => {
        for (let child = node.firstChild; child; child = child.nextSibling) {
          if (child.name == "ColorLiteral" || child.name == "NumberLiteral") add(child);
          else if (child.name == "CallExpression" && asColour(source.slice(child.from, child.to))) add(child);
          else if (child.name == "CallExpression" && asGradient(source.slice(child.from, child.to))) {
            add(child);
            visit(child); // its colours can be separate settings
          } else if (child.name == "CallExpression" && /^url\(/i.test(source.slice(child.from, child.to))) continue;
          else visit(child);
        }
      };
      visit(ref.node);
      return false;
    },
  });
  return list;
}

const propertyWords: Record<string, string> = {
  color: "Text colour",
  background: "Background",
  "background-color": "Background",
  "border-radius": "Corners",
  "font-size": "Text size",
  "font-weight": "Font weight",
  "line-height": "Line height",
  gap: "Gap",
  padding: "Padding",
  margin: "Margin",
  width: "Width",
  height: "Height",
  opacity: "Opacity",
  rotate: "Rotation",
  transform: "Rotation",
  transition: "Duration",
};

function words(name: string): string {
  const text = name.replace(/[-_]+/g, " ").trim();
  return text && text[0].toUpperCase() + text.slice(1);
}

function inStyle(files: Files, from: number, to: number): Found | string {
  const source = files["style.css"];
  const values = styleValues(source);
  const at = values.filter((v) => v.from <= from && to <= v.to).sort((a, b) => a.to - a.from - (b.to - b.from))[0];
  if (!at) {
    let node: SyntaxNode | null = cssLanguage.parser.parse(source).resolveInner(from, 1);
    for (; node; node = node.parent) {
      if (node.name == "Declaration") return "Select a colour, a linear gradient or a number with a unit.";
      if (/Quer|Feature/.test(node.name)) return "A condition in a stylesheet cannot use a setting, because custom properties do not work there.";
    }
    return "Select a value of a declaration: a colour, a linear gradient, or a number with a unit.";
  }
  const inferred = fromStyle(at.text, at.property);
  if (typeof inferred == "string") return inferred;
  const same = (v: StyleValue) => v.text == at.text || (inferred.type == "colour" && asColour(v.text) == inferred.schema.default);
  const name = /\.([\w-]+)[^.]*$/.exec(at.selector)?.[1] ?? "";
  const what = propertyWords[at.property] ?? words(at.property);
  const places = [occurrence(files, "style.css", at.from, at.to, "style")];
  // The same colour usually means the same; the same number only in the same property.
  for (const v of values) if (v != at && same(v)) places.push(occurrence(files, "style.css", v.from, v.to, "style", inferred.type == "colour" || v.property == at.property));
  if (inferred.type == "colour") for (const v of viewValues(files["view.html"] ?? "")) if (asColour(v.text) == inferred.schema.default) places.push(occurrence(files, "view.html", v.from, v.to, "view"));
  return { text: at.text, inferred, label: name && name != "pocket" ? `${what} of ${words(name).toLowerCase()}` : what, places };
}

interface ViewValue {
  from: number;
  to: number;
  text: string;
  attribute: string; // "" for text between tags
  tag: string;
  element: SyntaxNode | null;
}

// Masks actions for the HTML parser, so that offsets stay valid.
const masked = (source: string) => source.replace(/\{\{(?:"(?:[^"\\]|\\.)*"|`[^`]*`|[^}"`]|\}(?!\}))*\}\}/g, (action) => "\u001a".repeat(action.length));

function viewValues(source: string): ViewValue[] {
  const text = masked(source);
  const list: ViewValue[] = [];
  const runs: { from: number; to: number; tag: string; element: SyntaxNode | null }[] = [];
  htmlLanguage.parser.parse(text).iterate({
    enter({ name, node }) {
      const owner = node.parent;
      const opening = (owner?.name == "Element" ? owner.firstChild : owner) ?? null;
      const tagName = opening?.getChild("TagName");
      const tag = tagName ? text.slice(tagName.from, tagName.to) : "";
      if (/^(Text|EntityReference|CharacterReference)$/.test(name)) {
        // Character references split a text into several nodes.
        const last = runs[runs.length - 1];
        if (last && last.to == node.from && last.element?.from == owner?.from) last.to = node.to;
        else runs.push({ from: node.from, to: node.to, tag, element: owner });
      } else if (name == "AttributeValue") {
        const quoted = /^["']/.test(text.slice(node.from, node.from + 1)) ? 1 : 0;
        const value = text.slice(node.from + quoted, node.to - quoted);
        const attributeName = owner?.getChild("AttributeName");
        if (!value.includes("\u001a") && attributeName) {
          const holder = owner?.parent?.getChild("TagName");
          list.push({ from: node.from + quoted, to: node.to - quoted, text: value, attribute: text.slice(attributeName.from, attributeName.to).toLowerCase(), tag: holder ? text.slice(holder.from, holder.to) : "", element: owner?.parent ?? null });
        }
      }
    },
  });
  for (const run of runs) {
    for (const part of text.slice(run.from, run.to).matchAll(/[^\u001a]+/g)) {
      const inner = part[0].trim();
      if (!/[\p{L}\p{N}]/u.test(inner)) continue;
      const from = run.from + part.index + part[0].indexOf(inner);
      list.push({ from, to: from + inner.length, text: inner, attribute: "", tag: run.tag, element: run.element });
    }
  }
  return list;
}

function inView(files: Files, from: number, to: number): Found | string {
  const source = files["view.html"];
  const values = viewValues(source);
  let at = values.find((v) => v.from <= from && to <= v.to);
  if (!at) return source.slice(0, from).lastIndexOf("{{") > source.slice(0, from).lastIndexOf("}}") ? "The text between {{ and }} is not fixed text. Select text outside of it." : "Select text between tags, or the value of an attribute.";
  if (["class", "id", "name", "slot", "type", "role", "for"].includes(at.attribute) || at.attribute.startsWith("data-")) return `The attribute ${at.attribute} connects the widget's parts. To let customers choose it, add a choice to settings.json.`;
  // The selected part of a text; for a cursor, and in an attribute, all of it.
  if (!at.attribute && to > from) {
    const text = source.slice(from, to).trim();
    const start = from + source.slice(from, to).indexOf(text);
    if (text) at = { ...at, from: start, to: start + text.length, text };
  }
  const text = unescaped(at.text);
  const image = at.tag == "img" && at.attribute == "src";
  const inferred: Inferred = image
    ? { type: "image", schema: { type: "object", default: /^assets\//.test(text) ? { asset: text, alt: altOf(source, at) } : {} }, glass: {}, about: "an image" }
    : inParagraph(at, fromText(text));
  if (scope(source, at.from) == "define") return "Settings are not available inside {{define}}. Pass the value to the template.";
  const places = [occurrence(files, "view.html", at.from, at.to, "view")];
  for (const v of values) if (v.from != at.from && v.text == at.text && (v.attribute == at.attribute || inferred.type != "text") && scope(source, v.from) != "define") places.push(occurrence(files, "view.html", v.from, v.to, "view"));
  if (inferred.type == "colour") for (const v of styleValues(files["style.css"] ?? "")) if (asColour(v.text) == inferred.schema.default) places.push(occurrence(files, "style.css", v.from, v.to, "style"));
  const first = text.split(/\s+/).slice(0, 4).join(" ").replace(/[.,:;!?]+$/, "");
  const label = image ? "Image" : inferred.about == "a link" ? "Link" : inferred.type == "colour" ? "Colour" : at.attribute ? words(at.attribute) : words(first).slice(0, 40);
  return { text, inferred, label, places };
}

// Customers write more than one line where there is a paragraph, however short the present text is.
function inParagraph(at: ViewValue, inferred: Inferred): Inferred {
  if (inferred.type != "text" || at.attribute || inferred.schema.format || !/^(p|blockquote|dd|figcaption)$/i.test(at.tag)) return inferred;
  return { ...inferred, schema: { ...inferred.schema, maxLength: Math.max(1000, Number(inferred.schema.maxLength)) }, glass: { ...inferred.glass, control: "lines" }, about: "text of several lines" };
}

// The values in the view, the stylesheet and the mount function that can be settings, in the order of
// the files.
export function allValues(files: Files): { found: Found; tag: string; property: string }[] {
  const list: { found: Found; tag: string; property: string }[] = [];
  const add = (path: string, v: { from: number; to: number }, tag: string, property: string) => {
    const found = valueAt(files, path, v.from, v.to);
    if (typeof found != "string") list.push({ found, tag, property });
  };
  for (const v of viewValues(files["view.html"] ?? "")) add("view.html", v, v.tag, v.attribute);
  for (const v of styleValues(files["style.css"] ?? "")) add("style.css", v, v.selector, v.property);
  const mount = ["mount.ts", "mount.js"].find((p) => files[p]);
  if (mount) for (const m of files[mount].matchAll(/\bconst\s+\w+\s*=\s*(-?[\d.]+)\s*;/g)) add(mount, { from: m.index + m[0].lastIndexOf(m[1]), to: m.index + m[0].lastIndexOf(m[1]) + m[1].length }, "", "");
  return list;
}

function altOf(source: string, at: ViewValue): string {
  const tag = source.slice(source.lastIndexOf("<", at.from), source.indexOf(">", at.from));
  return unescaped(/\salt\s*=\s*"([^"{]*)"/.exec(tag)?.[1] ?? "");
}

function unescaped(text: string): string {
  return text.replace(/&(amp|lt|gt|quot|#39|nbsp);/g, (_, name: string) => ({ amp: "&", lt: "<", gt: ">", quot: '"', "#39": "'", nbsp: "\u00a0" })[name]!).replace(/\s+/g, " ");
}

// Whether a place in a view is in the body of {{range}} or {{with}}, where the dot differs, or of
// {{define}}.
export function scope(source: string, at: number): "" | "moved" | "define" {
  const open: string[] = [];
  for (const action of source.slice(0, at).matchAll(/\{\{-?\s*(if|range|with|define|block|end)\b/g)) {
    if (action[1] == "end") open.pop();
    else open.push(action[1]);
  }
  if (open.includes("define") || open.includes("block")) return "define";
  return open.some((o) => o == "range" || o == "with") ? "moved" : "";
}

// The name under which the mount function has its settings.
export function settingsIn(source: string): { name: string; add: number | null } | string {
  const head = /export\s+default\s+(?:async\s+)?function\s*\w*\s*\(\s*(?:\{([^}]*)\}|(\w+))/.exec(source);
  if (!head) return "The mount function was not found. Write: export default function mount({ settings }) { … }";
  if (head[2]) return { name: `${head[2]}.settings`, add: null };
  const renamed = /\bsettings\s*:\s*(\w+)/.exec(head[1]);
  if (renamed) return { name: renamed[1], add: null };
  if (/\bsettings\b/.test(head[1])) return { name: "settings", add: null };
  return { name: "settings", add: head.index + head[0].lastIndexOf("{") + 1 + head[1].trimEnd().length };
}

function inScript(files: Files, path: string, from: number, to: number): Found | string {
  const source = files[path];
  if (!/^mount\.(ts|js)$/.test(path)) return "Only the mount function receives settings. Pass the value on from mount.ts.";
  const tree = (path.endsWith(".ts") ? typescriptLanguage : javascriptLanguage).parser.parse(source);
  let node: SyntaxNode | null = tree.resolveInner(from, 1);
  if (!/^(String|Number|BooleanLiteral)$/.test(node.name)) node = tree.resolveInner(to, -1);
  if (!/^(String|Number|BooleanLiteral)$/.test(node.name) || node.from > from || node.to < to) return "Select a number, text in quotes, true or false.";
  const access = settingsIn(source);
  if (typeof access == "string") return access;
  let inside = false;
  for (let up: SyntaxNode | null = node.parent; up; up = up.parent) {
    if (up.name == "ImportDeclaration") return "A file name cannot be a setting.";
    if (up.name == "ExportDeclaration") inside = true;
  }
  if (!inside) return "Settings are available only inside the mount function.";
  const text = source.slice(node.from, node.to);
  const inferred = fromScript(text);
  if (typeof inferred == "string") return inferred;
  const places = [occurrence(files, path, node.from, node.to, "script")];
  tree.iterate({
    enter({ name, node: other }) {
      if (name != node.name || other.from == node.from || source.slice(other.from, other.to) != text) return;
      for (let up: SyntaxNode | null = other.parent; up; up = up.parent) if (up.name == "ExportDeclaration") return void places.push(occurrence(files, path, other.from, other.to, "script", false));
    },
  });
  const named = /(\w+)\s*[:=]\s*$/.exec(source.slice(0, node.from))?.[1] ?? "";
  return { text, inferred, label: words(named.replace(/([A-Z])/g, " $1").toLowerCase()) || "Setting", places };
}
