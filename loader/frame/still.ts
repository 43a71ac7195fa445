// Simulates a visitor who prefers reduced motion, or does not, for scripts and stylesheets,
// whatever the setting of this computer is.
const query = /\(\s*prefers-reduced-motion\s*(?::\s*(reduce|no-preference)\s*)?\)/g;
const asked = matchMedia.bind(globalThis);
const written = new WeakMap<CSSMediaRule, string>();
let still: boolean | undefined; // undefined for the computer's setting

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

// Applies it to the stylesheets of a root. Call it whenever they change.
export function applyStill(root: ShadowRoot) {
  for (const sheet of root.adoptedStyleSheets) walk(sheet.cssRules);
}
