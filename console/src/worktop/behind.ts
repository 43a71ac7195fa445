// The sources of a part: converts the frame's report to places in the author's files.
import { kebab } from "../editor/look";
import { isInherited, standsOn } from "./css";
import type { Part } from "./frame";
import { propertyAt, type Range } from "./json";
import { statementAt } from "./script";
import type { Worktop } from "./worktop.svelte";

export interface Place extends Range {
  path: string;
}

export interface Behind {
  mark: number | null;
  path: { mark: number | null; label: string }[]; // the outermost first
  selector: string; // for a new rule
  view: Range | null;
  made: string; // its origin, if it is not in the view itself
  rules: (Place & { note: string })[];
  around: (Place & { note: string })[];
  statements: Place[];
  settings: { key: string; label: string; type: string; range: Range | null }[];
  messages: Place[];
}

const longest = 40; // lines of a piece of the view; a longer one is reduced to its start tag

export function behind(worktop: Worktop, part: Part): Behind {
  const { folder } = worktop;
  const source = folder.text("view.html");
  const elements = source == worktop.previews.elementsOf ? worktop.previews.elements : null;
  const at = part.steps.findIndex((s) => s.mark !== null);
  const mark = at < 0 ? null : part.steps[at].mark;
  const element = mark === null ? undefined : elements?.[mark];

  const label = (mark: number | null, name: string) => {
    const e = mark === null ? undefined : elements?.[mark];
    const name1 = e && /\bclass\s*=\s*"([\w-]+)/.exec(source.slice(e.start, e.open))?.[1];
    return name1 ? `.${name1}` : name;
  };
  const path = part.steps
    .filter((s, i) => s.mark !== null || i == 0)
    .reverse()
    .map((s) => ({ mark: s.mark, label: label(s.mark, s.name) }));

  let view: Range | null = null;
  if (element) {
    const short = source.slice(element.start, element.end).split("\n").length <= longest;
    const from = element.start;
    view = { from, to: short ? element.end : element.open };
  }

  const { rules } = worktop.previews.sheet;
  const placed = (r: number, note: string) => ({ path: "style.css", from: rules[r].from, to: rules[r].to, note });
  const note = (r: number, pseudo = "") => [pseudo, ...rules[r].conditions].filter(Boolean).join(" ");
  const own = part.steps[0];
  const hits = new Map<number, string>();
  for (const r of own.rules) if (rules[r]) hits.set(r, note(r));
  for (const [pseudo, list] of Object.entries(own.pseudo)) for (const r of list) if (rules[r] && !hits.has(r)) hits.set(r, note(r, pseudo));
  // Of rules with the same specificity, the last one wins, so it comes first.
  const mine = [...hits.entries()].sort(([a], [b]) => b - a).map(([r, n]) => placed(r, n));
  const around: Behind["around"] = [];
  part.steps.slice(1).forEach((step) => {
    for (const r of [...step.rules].reverse()) {
      const gives = rules[r]?.declared.filter(isInherited) ?? [];
      if (gives.length && !hits.has(r) && !around.some((a) => a.from == rules[r].from)) around.push(placed(r, `${label(step.mark, step.name)}: ${[...new Set(gives)].join(", ")}`));
    }
  });

  const statements: Place[] = [];
  for (const spot of part.steps.slice(0, Math.max(1, at + 1)).flatMap((s) => s.spots)) {
    const origin = worktop.previews.originOf([spot]);
    if (!origin) continue;
    const text = folder.text(origin.path);
    const offset = text.split("\n").slice(0, origin.line - 1).join("\n").length + (origin.line > 1 ? 1 : 0) + origin.column - 1;
    const range = statementAt(text, origin.path, Math.min(offset, text.length));
    if (!statements.some((s) => s.path == origin.path && s.from <= range.from && range.to <= s.to)) statements.push({ path: origin.path, ...range });
  }
  statements.sort((a, b) => (a.path < b.path ? -1 : a.path > b.path ? 1 : a.from - b.from));

  // The settings and messages that the view shows and the rules use.
  const keys: string[] = [...(element?.settings ?? [])];
  const names = new Set(mine.flatMap((r) => standsOn(folder.text("style.css").slice(r.from, r.to))));
  for (const s of worktop.widget?.settings ?? []) if (s.look && names.has(kebab(s.key)) && !keys.includes(s.key)) keys.push(s.key);
  const schema = folder.text("settings.json");
  const settings = keys.map((key) => {
    const s = worktop.widget?.settings.find((s) => s.key == key);
    return { key, label: s?.label.en ?? Object.values(s?.label ?? {})[0] ?? key, type: s?.type ?? "", range: propertyAt(schema, ["properties", key]) };
  });

  const messages: Place[] = [];
  const language = worktop.widget?.languages[0];
  for (const key of element?.messages ?? []) {
    const path = `messages/${language}.json`;
    const range = propertyAt(folder.text(path), [key]);
    if (range) messages.push({ path, ...range });
  }

  const made = part.steps[0].mark === null && element ? `<${part.steps[0].name}> is not in the view. A function, a rich text or the script made it.` : "";
  const selector = `.${/\bclass\s*=\s*"([\w-]+)/.exec(element ? source.slice(element.start, element.open) : "")?.[1] ?? "pocket"}`;
  return { mark, path, selector: element && selector == ".pocket" ? `.pocket ${element.name}` : selector, view, made, rules: mine, around, statements, settings, messages };
}
