// A stylesheet as written: the places of its rules, and the same sheet with a marker in each rule,
// so that a browser shows which rules match an element.
import { cssLanguage } from "@codemirror/lang-css";
import { Tree, TreeFragment, type SyntaxNode } from "@lezer/common";
import { difference } from "./folder.svelte";

export interface Rule {
  from: number; // offsets in UTF-16 code units
  to: number;
  selector: string;
  conditions: string[]; // the at-rules around it, the outermost first
  declared: string[]; // properties
}

export interface Sheet {
  text: string; // with markers
  rules: Rule[]; // by marker
  tops: string[]; // the top-level rules, with markers
}

// The names in the frame; see loader/worktop/pick.ts.
const marker = (rule: number) => `--glass-rule-${rule}:1;`;

// A top-level rule or other statement, with the rules in it. Offsets are relative to its start.
type Top = (Rule & { block: number })[];

interface Placed {
  from: number;
  text: string;
  rules: Top;
}

function readTop(top: SyntaxNode, source: string): Top {
  const rules: Top = [];
  top.cursor().iterate(({ name, node }) => {
    if (name == "KeyframesStatement") return false;
    const block = name == "RuleSet" ? node.getChild("Block") : null;
    if (!block) return;
    rules.push({
      from: node.from - top.from,
      to: node.to - top.from,
      block: block.from + 1 - top.from,
      selector: source.slice(node.from, block.from).trim(),
      conditions: around(node, source),
      declared: block.getChildren("Declaration").map((d) => source.slice(d.firstChild!.from, d.firstChild!.to)),
    });
  });
  return rules;
}

// The last sheet. Of the next one, which is nearly the same, only new parts are read.
let known: { source: string; tops: Placed[] } = { source: "", tops: [] };
// The source and tree of the last complete parse.
let whole: { source: string; tree: Tree } = { source: "", tree: Tree.empty };

function everyTop(source: string): Placed[] {
  const { from, to, insert } = difference(whole.source, source);
  const fragments = TreeFragment.applyChanges(TreeFragment.addTree(whole.tree), [{ fromA: from, toA: to, fromB: from, toB: from + insert.length }]);
  whole = { source, tree: cssLanguage.parser.parse(source, fragments) };
  const before = new Map(known.tops.map((top) => [top.text, top.rules]));
  const tops: Placed[] = [];
  for (let node = whole.tree.topNode.firstChild; node; node = node.nextSibling) {
    if (node.name == "Comment") continue;
    const text = source.slice(node.from, node.to);
    tops.push({ from: node.from, text, rules: before.get(text) ?? readTop(node, source) });
  }
  return tops;
}

// Typing mostly changes one rule, which stays one: then only that is read.
function oneTop(source: string): Placed[] | null {
  const { from, to, insert } = difference(known.source, source);
  const at = known.tops.findIndex((top) => top.from < from && to < top.from + top.text.length);
  if (at < 0) return null;
  const top = known.tops[at];
  const text = top.text.slice(0, from - top.from) + insert + top.text.slice(to - top.from);
  const tree = cssLanguage.parser.parse(text);
  const node = tree.topNode.firstChild;
  if (!node || node.nextSibling || node.to != text.length || unsure(tree)) return null;
  const shift = insert.length - (to - from);
  return known.tops.map((t, i) => (i < at ? t : i == at ? { from: t.from, text, rules: readTop(node, text) } : { ...t, from: t.from + shift }));
}

function unsure(tree: Tree): boolean {
  let found = false;
  tree.iterate({ enter: ({ type }) => !(found ||= type.isError) });
  return found;
}

export function readSheet(source: string): Sheet {
  const tops = oneTop(source) ?? everyTop(source);
  known = { source, tops };
  const sheet: Sheet = { text: "", rules: [], tops: [] };
  let last = 0;
  for (const { from, text, rules } of tops) {
    let marked = "";
    let at = 0;
    for (const { block, ...rule } of rules) {
      marked += text.slice(at, block) + marker(sheet.rules.length);
      at = block;
      sheet.rules.push({ ...rule, from: from + rule.from, to: from + rule.to });
    }
    marked += text.slice(at);
    sheet.tops.push(marked);
    sheet.text += source.slice(last, from) + marked;
    last = from + text.length;
  }
  sheet.text += source.slice(last);
  return sheet;
}

function around(node: SyntaxNode, source: string): string[] {
  const list: string[] = [];
  for (let up = node.parent; up; up = up.parent) {
    const block = up.getChild("Block");
    if (block && /Statement$|AtRule$/.test(up.name)) list.unshift(source.slice(up.from, block.from).trim());
  }
  return list;
}

// The only top-level rule that differs between two sheets; -1 if there are more.
export function onlyRule(before: Sheet, after: Sheet): number {
  if (before.tops.length != after.tops.length || before.rules.length != after.rules.length) return -1;
  let only = -1;
  for (let i = 0; i < after.tops.length; i++) {
    if (before.tops[i] == after.tops[i]) continue;
    if (only >= 0) return -1;
    only = i;
  }
  return only;
}

// Inherited properties (CSS 2.2, appendix F, and its successors).
const inherited = /^(color|font(-.*)?|line-height|letter-spacing|word-spacing|text-(align|indent|transform|shadow|wrap)(-.*)?|white-space|direction|visibility|cursor|list-style(-.*)?|quotes|hyphens|overflow-wrap|word-break|tab-size|accent-color|caret-color|color-scheme|fill|stroke(-.*)?|--.*)$/;

export const isInherited = (property: string) => inherited.test(property);

// Names of custom properties and data attributes in a piece of a stylesheet.
export function standsOn(source: string): string[] {
  const names = new Set<string>();
  for (const match of source.matchAll(/var\(\s*--([\w-]+)|\[data-([\w-]+)/g)) names.add(match[1] ?? match[2]);
  return [...names];
}
