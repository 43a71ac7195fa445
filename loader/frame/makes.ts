// The custom properties and attributes of the pocket's root that style a part of it, read from the
// rules that match it. Settings of the look use no other way.
interface Rule {
  selector: string; // without pseudo-elements, which matches() does not support
  names: string[]; // "--accent", "data-layout"
}

const read = new WeakMap<CSSStyleSheet, Rule[]>();
const property = /var\(\s*(--[\w-]+)/g;
const attribute = /\[(data-[\w-]+)/g;

function rulesOf(sheet: CSSStyleSheet): Rule[] {
  let list = read.get(sheet);
  if (!list) {
    read.set(sheet, (list = []));
    walk(sheet.cssRules, "", list);
  }
  return list;
}

function walk(rules: CSSRuleList, within: string, list: Rule[]) {
  for (const rule of rules) {
    if (rule instanceof CSSStyleRule) {
      const own = rule.selectorText.replace(/::[\w-]+(\([^)]*\))?/g, "") || "*";
      const selector = within ? (own.includes("&") ? own.replaceAll("&", `:is(${within})`) : `:is(${within}) :is(${own})`) : own;
      const names = [...rule.style.cssText.matchAll(property), ...selector.matchAll(attribute)].map((m) => m[1]);
      if (names.length) list.push({ selector, names });
      walk(rule.cssRules, selector, list);
    } else if ("cssRules" in rule) walk((rule as CSSGroupingRule).cssRules, within, list);
  }
}

function matches(at: Element, selector: string) {
  try {
    return at.matches(selector);
  } catch {
    return false;
  }
}

// The names that style an element itself, not its ancestors.
export function styledBy(root: ShadowRoot, at: Element): string[] {
  const names = new Set<string>();
  for (const sheet of root.adoptedStyleSheets) for (const rule of rulesOf(sheet)) if (matches(at, rule.selector)) for (const name of rule.names) names.add(name);
  return [...names];
}

// The elements that a name styles.
export function styles(root: ShadowRoot, name: string): Element[] {
  const found = new Set<Element>();
  for (const sheet of root.adoptedStyleSheets) {
    for (const rule of rulesOf(sheet)) {
      if (!rule.names.includes(name)) continue;
      try {
        for (const at of root.querySelectorAll(rule.selector)) found.add(at);
      } catch {
        // Some selectors are only valid in a stylesheet.
      }
    }
  }
  return [...found];
}
