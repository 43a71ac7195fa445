// The look of code. The colours are the console's, with a contrast of 4.5 in both modes.
import { HighlightStyle, syntaxHighlighting } from "@codemirror/language";
import { Decoration, EditorView, MatchDecorator, ViewPlugin, type DecorationSet, type ViewUpdate } from "@codemirror/view";
import { tags as t } from "@lezer/highlight";

const style = HighlightStyle.define([
  { tag: [t.keyword, t.modifier, t.operatorKeyword, t.controlKeyword, t.definitionKeyword], color: "var(--code-word)" },
  { tag: [t.tagName, t.className, t.typeName, t.namespace], color: "var(--code-name)" },
  { tag: [t.propertyName, t.attributeName, t.labelName], color: "var(--code-property)" },
  { tag: [t.string, t.special(t.string), t.attributeValue, t.regexp], color: "var(--code-text)" },
  { tag: [t.number, t.bool, t.null, t.unit, t.color, t.atom], color: "var(--code-value)" },
  { tag: [t.comment, t.meta, t.processingInstruction], color: "var(--soft)", fontStyle: "italic" },
  { tag: [t.punctuation, t.bracket, t.operator, t.angleBracket], color: "var(--soft)" },
  { tag: t.invalid, color: "var(--bad)" },
]);

const theme = EditorView.theme({
  "&": { color: "var(--ink)", backgroundColor: "transparent", fontSize: "13px" },
  "&.cm-focused": { outline: "2px solid var(--teal)", outlineOffset: "-1px" },
  ".cm-scroller": { fontFamily: "var(--font-mono)", lineHeight: "1.55" },
  ".cm-content": { padding: "8px 0", caretColor: "var(--ink)" },
  ".cm-line": { padding: "0 10px 0 6px" },
  ".cm-gutters": { backgroundColor: "transparent", color: "var(--soft)", border: "0", fontVariantNumeric: "tabular-nums" },
  ".cm-lineNumbers .cm-gutterElement": { padding: "0 4px 0 10px", minWidth: "34px" },
  ".cm-activeLine": { backgroundColor: "transparent" },
  "&.cm-focused .cm-activeLine": { backgroundColor: "var(--sunk)" },
  "&.cm-focused > .cm-scroller > .cm-selectionLayer .cm-selectionBackground, .cm-selectionBackground": { backgroundColor: "var(--wash)" },
  ".cm-cursor": { borderLeftColor: "var(--ink)" },
  ".cm-matchingBracket, &.cm-focused .cm-matchingBracket": { backgroundColor: "var(--wash)", color: "inherit", outline: "1px solid var(--line)" },
  ".cm-tooltip": { backgroundColor: "var(--sheet)", color: "var(--ink)", border: "1px solid var(--edge)", borderRadius: "8px", overflow: "hidden", maxWidth: "min(420px, 90vw)" },
  ".cm-tooltip.cm-tooltip-autocomplete > ul": { fontFamily: "var(--font-mono)", fontSize: "13px" },
  ".cm-tooltip.cm-tooltip-autocomplete > ul > li": { padding: "3px 10px" },
  ".cm-tooltip.cm-tooltip-autocomplete > ul > li[aria-selected]": { backgroundColor: "var(--teal)", color: "var(--on-teal)" },
  ".cm-tooltip.cm-offer": { zIndex: "30", padding: "4px 10px", font: "14px var(--font-sans)", backgroundColor: "var(--teal)", color: "var(--on-teal)", borderColor: "transparent", boxShadow: "0 2px 10px #0003" },
  ".cm-offer kbd": { marginInlineStart: "6px", opacity: "0.8", fontSize: "12px" },
  ".cm-completionDetail": { fontStyle: "normal", opacity: "0.8", marginLeft: "1em" },
  ".cm-diagnostic": { padding: "6px 10px", borderLeftWidth: "4px", fontFamily: "var(--font-sans)", fontSize: "14px", whiteSpace: "pre-wrap" },
  ".cm-diagnostic-error": { borderLeftColor: "var(--bad)" },
  ".cm-diagnostic-warning": { borderLeftColor: "var(--warn)" },
  ".cm-lintRange-error": { backgroundImage: "none", textDecoration: "underline wavy var(--bad)", textUnderlineOffset: "3px" },
  ".cm-lintRange-warning": { backgroundImage: "none", textDecoration: "underline wavy var(--warn)", textUnderlineOffset: "3px" },
  ".cm-action": { color: "var(--code-word)", backgroundColor: "color-mix(in srgb, var(--teal) 9%, transparent)", borderRadius: "3px" },
  ".cm-panels": { backgroundColor: "var(--sunk)", color: "var(--ink)" },
});

// Marks {{…}}, the view language, which HTML highlighting does not know.
const actions = new MatchDecorator({ regexp: /\{\{(?:"(?:[^"\\]|\\.)*"|`[^`]*`|[^}"`]|\}(?!\}))*\}\}/g, decoration: Decoration.mark({ class: "cm-action" }) });

export const actionMarks = ViewPlugin.fromClass(
  class {
    decorations: DecorationSet;
    constructor(view: EditorView) {
      this.decorations = actions.createDeco(view);
    }
    update(update: ViewUpdate) {
      this.decorations = actions.updateDeco(update, this.decorations);
    }
  },
  { decorations: (plugin) => plugin.decorations },
);

export const look = [theme, syntaxHighlighting(style)];
