// A visitor who asks for less motion, or does not: what scripts are told, and what style sheets
// are held against, whatever the computer says that the preview is looked at on.
const query = /\(\s*prefers-reduced-motion\s*(?::\s*(reduce|no-preference)\s*)?\)/g;
const asked = matchMedia.bind(globalThis);
const written = new WeakMap<CSSMediaRule, string>();
let still: boolean | undefined; // undefined as the computer has it

const turned = (text: string) => (still === undefined ? text : text.replace(query, (_, wants = "reduce") => ((wants == "reduce") == still ? "(min-width:0px)" : "(max-width:0px)")));

export function setStill(on: boolean | undefined) {
  still = on;
}

globalThis.matchMedia = (text) => asked(turned(text));

function walk(rules: CSSRuleList) {
  for (const rule of rules) {
    if (rule instanceof CSSMediaRule) {
      const own = written.get(rule) ?? rule.media.mediaText;
      const wanted = turned(own);
      if (wanted != rule.media.mediaText) {
        written.set(rule, own);
        rule.media.mediaText = wanted;
      }
    }
    if ("cssRules" in rule) walk((rule as CSSGroupingRule).cssRules);
  }
}

// Applies it to the sheets of a root, to be called whenever they are others.
export function applyStill(root: ShadowRoot) {
  for (const sheet of root.adoptedStyleSheets) walk(sheet.cssRules);
}
