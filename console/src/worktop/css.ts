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

export function readSheet(source: string): Sheet {
  const rules: Rule[] = [];
  const tops: string[] = [];
  let begin = 0; // of the top rule that is being read, in text
  let text = "";
  let last = 0;
  parse(source).iterate({
    leave(node) {
      if (node.node.parent?.name != "StyleSheet" || node.name == "Comment") return;
      text += source.slice(last, node.to);
      last = node.to;
      tops.push(text.slice(begin));
    },
    enter(node) {
      if (node.node.parent?.name == "StyleSheet" && node.name != "Comment") {
        text += source.slice(last, node.from);
        last = node.from;
        begin = text.length;
      }
      if (node.name == "KeyframesStatement") {
        if (node.node.parent?.name == "StyleSheet") {
          text += source.slice(last, node.to);
          last = node.to;
          tops.push(text.slice(begin));
        }
        return false;
      }
      if (node.name != "RuleSet") return;
      const block = node.node.getChild("Block");
      if (!block) return;
      text += source.slice(last, block.from + 1) + marker(rules.length);
      last = block.from + 1;
      rules.push({
        from: node.from,
        to: node.to,
        selector: source.slice(node.from, block.from).trim(),
        conditions: around(node.node, source),
        declared: block.getChildren("Declaration").map((d) => {
          const name = d.firstChild!;
          return source.slice(name.from, name.to);
        }),
      });
    },
  });
  return { text: text + source.slice(last), rules, tops };
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
