// Completions for a widget's files: the existing names and values.
import type { Completion, CompletionContext, CompletionResult, CompletionSource } from "@codemirror/autocomplete";
import type { Setting, PreviewedFolder } from "../../api/types";
import { kebab } from "../../editor/look";

export interface Vocabulary {
  widget: PreviewedFolder | null;
  text(path: string): string; // of a file
}

// Classes in the class attributes of a text.
function classesIn(view: string): string[] {
  const names = new Set<string>();
  for (const match of view.replace(/\{\{[^}]*\}\}/g, " ").matchAll(/\bclass\s*=\s*"([^"]*)"/g)) for (const name of match[1].split(/\s+/)) if (name) names.add(name);
  return [...names];
}

function classesOf(style: string): string[] {
  return [...new Set([...style.matchAll(/\.([a-zA-Z_][\w-]*)/g)].map((m) => m[1]))].filter((n) => n != "pocket");
}

const of = (list: string[], type: string, detail?: (name: string) => string | undefined): Completion[] => list.map((label) => ({ label, type, detail: detail?.(label) }));
const words = (setting: Setting) => `${setting.type} · ${setting.label.en ?? Object.values(setting.label)[0]}`;

export function sources(path: string, vocabulary: Vocabulary): CompletionSource[] {
  const settings = () => vocabulary.widget?.settings ?? [];
  const bySetting = (list: Setting[], name: (s: Setting) => string): Completion[] => list.map((s) => ({ label: name(s), type: "variable", detail: words(s) }));

  const view: CompletionSource = (context) => {
    const inside = /\{\{[^}]*$/.exec(context.state.sliceDoc(Math.max(0, context.pos - 300), context.pos));
    if (inside) {
      const setting = context.matchBefore(/\$?\.settings\.\w*/);
      if (setting) return { from: setting.from + setting.text.lastIndexOf(".") + 1, options: bySetting(settings(), (s) => s.key) };
      const said = context.matchBefore(/say\s+"[^"]*/);
      if (said) return { from: said.from + said.text.indexOf('"') + 1, options: of(vocabulary.widget?.messages ?? [], "text") };
      const word = context.matchBefore(/[\w.$]+/);
      if (!word && !context.explicit) return null;
      return { from: word?.from ?? context.pos, options: [...of(vocabulary.widget?.functions ?? [], "function"), { label: ".settings", type: "variable" }, ...of(["if", "range", "with", "else", "end", "define", "template"], "keyword")] };
    }
    const classes = context.matchBefore(/\bclass="[^"{]*/);
    if (classes) {
      const word = context.matchBefore(/[\w-]*/)!;
      return { from: word.from, options: of(classesOf(vocabulary.text("style.css")), "class") };
    }
    return null;
  };

  const style: CompletionSource = (context) => {
    const property = context.matchBefore(/var\(\s*--[\w-]*/) ?? context.matchBefore(/var\(\s*/);
    const looks = settings().filter((s) => s.look);
    if (property) {
      const dashes = property.text.indexOf("--");
      return { from: dashes < 0 ? property.to : property.from + dashes, options: bySetting(looks, (s) => `--${kebab(s.key)}`) };
    }
    const value = context.matchBefore(/\[data-([\w-]+)[~|^$*]?="?[\w-]*/);
    if (value) {
      const [, name] = /\[data-([\w-]+)/.exec(value.text)!;
      const word = context.matchBefore(/[\w-]*$/)!;
      if (/=/.test(value.text)) return { from: word.from, options: of(looks.find((s) => kebab(s.key) == name)?.options?.map((o) => o.value) ?? [], "enum") };
    }
    const attribute = context.matchBefore(/\[data-[\w-]*/);
    if (attribute) return { from: attribute.from + 1, options: bySetting(looks, (s) => `data-${kebab(s.key)}`) };
    const name = context.matchBefore(/(^|[\s,>+~(}])\.[\w-]*/);
    if (name) return { from: name.from + name.text.indexOf(".") + 1, options: of([...classesIn(vocabulary.text("view.html")), "pocket"], "class") };
    return null;
  };

  const script: CompletionSource = (context) => {
    const setting = context.matchBefore(/settings\.\w*/);
    if (!setting) return null;
    const keys = vocabulary.widget?.mount ?? [];
    return { from: setting.from + "settings.".length, options: bySetting(settings().filter((s) => keys.includes(s.key)), (s) => s.key) };
  };

  const json: CompletionSource = (context: CompletionContext): CompletionResult | null => {
    const type = context.matchBefore(/"type"\s*:\s*"[^"]*/);
    const line = context.state.doc.lineAt(context.pos);
    const before = context.state.sliceDoc(Math.max(0, line.from - 400), context.pos);
    if (type && path == "settings.json") {
      const glass = before.lastIndexOf('"glass"') > before.lastIndexOf('"default"');
      return { from: type.from + type.text.lastIndexOf('"') + 1, options: glass ? of(vocabulary.widget?.types ?? [], "type") : of(["string", "number", "integer", "boolean", "object", "array"], "type") };
    }
    const key = context.matchBefore(/^\s*"\w*/);
    if (key && (path.startsWith("starters/") || path == "sample.json")) return { from: key.from + key.text.indexOf('"') + 1, options: bySetting(settings(), (s) => s.key) };
    return null;
  };

  if (path.endsWith(".html")) return [view];
  if (path.endsWith(".css")) return [style];
  if (path.endsWith(".json")) return [json];
  return [script];
}
