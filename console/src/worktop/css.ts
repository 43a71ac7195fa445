// A stylesheet as its author writes it: where its rules stand, and the same sheet with a
// marker in each rule, by which a browser tells which of them hit an element.
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
  tops: string[]; // the rules that lie in no other, with markers
}

// As the frame names them; see loader/worktop/pick.ts.
const marker = (rule: number) => `--glass-rule-${rule}:1;`;

// The tree read last: of the next text, which is nearly the same, only what is new is read.
let known: { source: string; tree: Tree } = { source: "", tree: Tree.empty };

function parse(source: string): Tree {
  const { from, to, insert } = difference(known.source, source);
  const fragments = TreeFragment.applyChanges(TreeFragment.addTree(known.tree), [{ fromA: from, toA: to, fromB: from, toB: from + insert.length }]);
  known = { source, tree: cssLanguage.parser.parse(source, fragments) };
  return known.tree;
}

// A rule that lies in no other, or whatever else does, with the rules in it; all offsets are
// counted from its beginning.
type Top = (Rule & { block: number })[];

// The tops read last, by their text: of a sheet that is being typed, all but one are known.
let tops: Map<string, Top> = new Map();

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

export function readSheet(source: string): Sheet {
  const sheet: Sheet = { text: "", rules: [], tops: [] };
  const read: typeof tops = new Map();
  let last = 0;
  for (let node = parse(source).topNode.firstChild; node; node = node.nextSibling) {
    if (node.name == "Comment") continue;
    const own = source.slice(node.from, node.to);
    const top = tops.get(own) ?? readTop(node, source);
    read.set(own, top);
    let marked = "";
    let at = 0;
    for (const { block, ...rule } of top) {
      marked += own.slice(at, block) + marker(sheet.rules.length);
      at = block;
      sheet.rules.push({ ...rule, from: node.from + rule.from, to: node.from + rule.to });
    }
    marked += own.slice(at);
    sheet.tops.push(marked);
    sheet.text += source.slice(last, node.from) + marked;
    last = node.to;
  }
  tops = read;
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

// The one top rule that makes the difference between two sheets; -1 when it is more.
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

// What elements within get too, unless they say otherwise (CSS 2.2, appendix F, and its
// successors).
const inherited = /^(color|font(-.*)?|line-height|letter-spacing|word-spacing|text-(align|indent|transform|shadow|wrap)(-.*)?|white-space|direction|visibility|cursor|list-style(-.*)?|quotes|hyphens|overflow-wrap|word-break|tab-size|accent-color|caret-color|color-scheme|fill|stroke(-.*)?|--.*)$/;

export const isInherited = (property: string) => inherited.test(property);

// Names of custom properties and data attributes that a piece of a stylesheet stands on.
export function standsOn(source: string): string[] {
  const names = new Set<string>();
  for (const match of source.matchAll(/var\(\s*--([\w-]+)|\[data-([\w-]+)/g)) names.add(match[1] ?? match[2]);
  return [...names];
}
