// Creates, renames, duplicates and removes settings: changes every affected file in one step, and
// nothing else in it.
import { kebab } from "../../editor/look";
import { applied, type Edit } from "./edit";
import { scope, settingsIn, type Files, type Found, type Occurrence } from "./find";
import { addElement, addProperty, elementsLike, keysAt, removeElement, removeProperty, renameProperty, textOf, valueNode } from "./json";
import { keyFrom } from "./key";

export type Changed = Record<string, string>;

const schema = "settings.json";
const properties = ["properties"];

// Properties without "glass" are for other validators.
export const keysOf = (files: Files) => keysAt(files[schema] ?? "", properties).filter((key) => valueNode(files[schema], [...properties, key, "glass"]));

// A value that becomes a setting. chosen are the places that use it.
export interface Wish {
  found: Found;
  label: string;
  chosen: Occurrence[];
}

// Makes a setting from a value.
export function makeSetting(files: Files, found: Found, label: string, chosen: Occurrence[], language = "en"): { key: string; files: Changed } | string {
  const made = makeSettings(files, [{ found, label, chosen }], language);
  return typeof made == "string" ? made : { key: made.keys[0], files: made.files };
}

// Makes settings from several values, whose places do not overlap.
export function makeSettings(files: Files, wishes: Wish[], language = "en"): { keys: string[]; files: Changed } | string {
  const changed: Changed = {};
  const now = (path: string) => changed[path] ?? files[path] ?? "";
  const keys: string[] = [];
  const edits: Record<string, Edit[]> = {};
  for (const { found, label, chosen } of wishes) {
    const current = { ...files, ...changed };
    const key = keyFrom(label, keysOf(current));
    const glass = { type: found.inferred.type, ...place(current, !!found.inferred.glass.look), label: { [language]: label.trim() }, ...found.inferred.glass };
    // A colour that the view shows too, or a number, is not only look.
    if (!chosen.some((o) => o.how == "style")) delete (glass as Record<string, unknown>).look;
    const value = JSON.stringify({ ...found.inferred.schema, glass }, null, 1).replace(/\n\s*/g, " ");
    const added = addProperty(now(schema), properties, key, value);
    if (!added) return "settings.json has no \"properties\" for a new setting. Correct it first.";
    changed[schema] = applied(now(schema), [added]);
    if (chosen.some((o) => /\.(ts|js)$/.test(o.path))) {
      const manifest = passed({ ...files, ...changed }, key);
      if (typeof manifest == "string") return manifest;
      Object.assign(changed, manifest);
    }
    for (const o of chosen) (edits[o.path] ??= []).push(replacement(files, o, key, found));
    keys.push(key);
  }
  for (const [path, list] of Object.entries(edits)) {
    const source = files[path];
    if (/\.(ts|js)$/.test(path)) {
      const access = settingsIn(source);
      if (typeof access == "string") return access;
      if (access.add !== null) list.push({ from: access.add, to: access.add, insert: /[{,]\s*$/.test(source.slice(0, access.add)) ? " settings" : ", settings" });
    }
    changed[path] = applied(source, list);
  }
  return { keys, files: changed };
}

function replacement(files: Files, o: Occurrence, key: string, found: Found): Edit {
  const { from, to } = o;
  const source = files[o.path];
  if (o.how == "style") return { from, to, insert: `var(--${kebab(key)})` };
  if (o.how == "script") {
    const access = settingsIn(source);
    return { from, to, insert: typeof access == "string" ? found.text : `${access.name}.${key}` };
  }
  const setting = `${scope(source, from) == "moved" ? "$" : ""}.settings.${key}`;
  if (found.inferred.type == "image") {
    const start = source.lastIndexOf("<", from);
    const end = source.indexOf(">", to) + 1;
    const style = /\sclass\s*=\s*"([^"]*)"/.exec(source.slice(start, end))?.[1];
    return { from: start, to: end, insert: `{{if ${setting}.shown}}{{image ${setting} "100vw"${style ? ` "${style}"` : ""}}}{{end}}` };
  }
  return { from, to, insert: `{{${setting}}}` };
}

// The place of a new setting in the form: after the last of the group with similar ones.
function place(files: Files, look: boolean): Record<string, unknown> {
  let document: any;
  try {
    document = JSON.parse(files[schema]);
  } catch {
    return {};
  }
  const all = Object.values(document.properties ?? {}).map((p: any) => p?.glass ?? {});
  const order = Math.max(0, ...all.map((g: any) => Number(g.order) || 0));
  const like = all.filter((g: any) => !!g.look == look && g.group);
  const group = like[like.length - 1]?.group;
  return { ...(group ? { group } : {}), ...(order ? { order: order + 1 } : {}) };
}

// The manifest, with a setting added to those for the mount function.
function passed(files: Files, key: string): Changed | string {
  const source = files["widget.json"] ?? "";
  const edit = valueNode(source, ["mount", "settings"])
    ? addElement(source, ["mount", "settings"], key)
    : valueNode(source, ["mount"])
      ? addProperty(source, ["mount"], "settings", JSON.stringify([key]))
      : addProperty(source, [], "mount", `{ "settings": ${JSON.stringify([key])} }`);
  return edit ? { "widget.json": applied(source, [edit]) } : "widget.json cannot be read. Correct it first.";
}

const valueFiles = (files: Files) => Object.keys(files).filter((p) => p == "sample.json" || /^starters\/[^/]+\.json$/.test(p));
const scripts = (files: Files) => Object.keys(files).filter((p) => /\.(ts|js)$/.test(p) && !p.endsWith(".d.ts"));

export interface Use {
  path: string;
  from: number;
  to: number;
  line: number;
  around: string;
}

const uses = (files: Files, path: string, pattern: RegExp): Use[] => {
  const text = files[path] ?? "";
  return [...text.matchAll(new RegExp(pattern, "dg"))].map((m) => {
    const [from, to] = m.indices![m[1] === undefined ? 0 : 1]!;
    const end = text.indexOf("\n", from);
    return { path, from, to, line: text.slice(0, from).split("\n").length, around: text.slice(text.lastIndexOf("\n", from - 1) + 1, end < 0 ? text.length : end).trim() };
  });
};

// Where a setting is used by name: in the view, the stylesheet and the scripts.
export function usesOf(files: Files, key: string): Use[] {
  return [
    ...uses(files, "view.html", new RegExp(`\\.settings\\.(${key})\\b`, "g")),
    ...uses(files, "view.html", new RegExp(`data-text="(${key})"`, "g")),
    ...uses(files, "style.css", new RegExp(`--(${kebab(key)})(?![\\w-])`, "g")),
    ...uses(files, "style.css", new RegExp(`\\[data-(${kebab(key)})(?![\\w-])`, "g")),
    ...scripts(files).flatMap((p) => uses(files, p, new RegExp(`\\bsettings\\??\\.(${key})\\b`, "g"))),
  ];
}

// Declares what happens to values that customers set with a release that had the earlier setting;
// see "changes" in docs/widget-format.md.
export function declareChange(source: string, change: Record<string, unknown>): string {
  const text = JSON.stringify(change, null, 1).replace(/\n\s*/g, " ");
  const list = valueNode(source, ["glass", "changes"]);
  let edit: Edit | null;
  if (list) {
    const all = list.getChildren("Object");
    const last = all[all.length - 1];
    edit = last ? { from: last.to, to: last.to, insert: `, ${text}` } : { from: list.from + 1, to: list.to - 1, insert: text };
  } else edit = valueNode(source, ["glass"]) ? addProperty(source, ["glass"], "changes", `[${text}]`) : addProperty(source, [], "glass", `{ "changes": [${text}] }`);
  return edit ? applied(source, [edit]) : source;
}

// Changes a setting's key everywhere.
export function renameSetting(files: Files, key: string, name: string): Changed {
  const changed: Changed = {};
  const edits: Record<string, (Edit | null)[]> = {};
  const add = (path: string, ...list: (Edit | null)[]) => (edits[path] ??= []).push(...list);
  const source = files[schema];
  add(schema, renameProperty(source, properties, key, name), ...elementsLike(source, ["required"], key).map((e) => ({ ...e, insert: JSON.stringify(name) })));
  for (const other of keysOf(files)) {
    add(schema, renameProperty(source, [...properties, other, "glass", "when"], key, name));
    const on = valueNode(source, [...properties, other, "glass", "on"]);
    if (on && source.slice(on.from, on.to) == JSON.stringify(key)) add(schema, { from: on.from, to: on.to, insert: JSON.stringify(name) });
  }
  add("widget.json", ...elementsLike(files["widget.json"] ?? "", ["mount", "settings"], key).map((e) => ({ ...e, insert: JSON.stringify(name) })));
  for (const path of valueFiles(files)) add(path, renameProperty(files[path], ["settings"], key, name), renameProperty(files[path], ["settings", "small"], key, name));
  for (const use of usesOf(files, key)) add(use.path, { from: use.from, to: use.to, insert: use.path == "style.css" ? kebab(name) : name });
  for (const [path, list] of Object.entries(edits)) {
    const real = list.filter((e) => e !== null);
    if (real.length) changed[path] = applied(files[path], real);
  }
  return changed;
}

// Duplicates a setting: the declaration, and the values in starters and sample.
export function duplicateSetting(files: Files, key: string, label: string): { key: string; files: Changed } | string {
  const name = keyFrom(label, keysOf(files));
  const text = textOf(files[schema], properties, key);
  if (text === null) return `There is no setting ${key}.`;
  let declared: any;
  try {
    declared = JSON.parse(text);
  } catch {
    return "settings.json cannot be read. Correct it first.";
  }
  const language = Object.keys(declared.glass.label)[0];
  const words = valueNode(text, ["glass", "label", language]);
  const copy = words ? applied(text, [{ from: words.from, to: words.to, insert: JSON.stringify(label.trim()) }]) : text;
  const added = addProperty(files[schema], properties, name, copy, key);
  if (!added) return "settings.json cannot be read. Correct it first.";
  const changed: Changed = { [schema]: applied(files[schema], [{ ...added, insert: added.insert.replace(/^,\s*/, (gap) => gap) }]) };
  for (const path of valueFiles(files)) {
    const value = textOf(files[path], ["settings"], key);
    const edit = value === null ? null : addProperty(files[path], ["settings"], name, value, key);
    if (edit) changed[path] = applied(files[path], [edit]);
  }
  return { key: name, files: changed };
}

// Removes a setting. If its default takes its place, nothing refers to it afterwards. If not,
// references stay, and the check reports them.
export function removeSetting(files: Files, key: string, withDefault: boolean): { files: Changed; left: Use[] } {
  const changed: Changed = {};
  const put = (path: string, list: (Edit | null)[]) => {
    const real = list.filter((e) => e !== null);
    if (real.length) changed[path] = applied(changed[path] ?? files[path], real);
  };
  let declared: any;
  try {
    declared = JSON.parse(textOf(files[schema], properties, key) ?? "null");
  } catch {
    declared = null;
  }
  put(schema, [removeProperty(files[schema], properties, key)]);
  put(schema, removeElement(changed[schema] ?? files[schema], ["required"], key));
  for (const other of keysOf({ [schema]: changed[schema] ?? files[schema] })) {
    const now = changed[schema] ?? files[schema];
    if (keysAt(now, [...properties, other, "glass", "when"]).includes(key)) {
      const only = keysAt(now, [...properties, other, "glass", "when"]).length == 1;
      put(schema, [only ? removeProperty(now, [...properties, other, "glass"], "when") : removeProperty(now, [...properties, other, "glass", "when"], key)]);
    }
    const after = changed[schema] ?? files[schema];
    if (textOf(after, [...properties, other, "glass"], "on") == JSON.stringify(key)) put(schema, [removeProperty(after, [...properties, other, "glass"], "on")]);
  }
  put("widget.json", removeElement(files["widget.json"] ?? "", ["mount", "settings"], key));
  for (const path of valueFiles(files)) {
    put(path, [removeProperty(files[path], ["settings"], key)]);
    put(path, [removeProperty(changed[path] ?? files[path], ["settings", "small"], key)]);
  }
  if (withDefault && declared) {
    const text = typeof declared.default == "string" ? declared.default : typeof declared.default == "number" ? String(declared.default) : null;
    if (text !== null) {
      const css = text + (declared.glass?.unit ?? "");
      const escaped = text.replace(/&/g, "&amp;").replace(/</g, "&lt;").replace(/"/g, "&quot;");
      if (files["style.css"]) put("style.css", uses(files, "style.css", new RegExp(`var\\(\\s*--${kebab(key)}\\s*(?:,[^()]*)?\\)`, "g")).map((u) => ({ from: u.from, to: u.to, insert: css })));
      if (files["view.html"]) put("view.html", uses(files, "view.html", new RegExp(`\\{\\{-?\\s*\\$?\\.settings\\.${key}\\s*-?\\}\\}`, "g")).map((u) => ({ from: u.from, to: u.to, insert: escaped })));
    }
  }
  return { files: changed, left: usesOf({ ...files, ...changed }, key) };
}
