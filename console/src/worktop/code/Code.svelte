<script lang="ts">
  // An editor for a file or a piece of it. It writes changes to the folder, and shows the folder's
  // changes.
  import { autocompletion, closeBrackets, closeBracketsKeymap, completionKeymap } from "@codemirror/autocomplete";
  import { defaultKeymap, indentWithTab } from "@codemirror/commands";
  import { css, cssLanguage } from "@codemirror/lang-css";
  import { html, htmlLanguage } from "@codemirror/lang-html";
  import { javascript, javascriptLanguage, typescriptLanguage } from "@codemirror/lang-javascript";
  import { json, jsonLanguage } from "@codemirror/lang-json";
  import { bracketMatching, indentOnInput, indentUnit } from "@codemirror/language";
  import { setDiagnostics, type Diagnostic } from "@codemirror/lint";
  import { highlightSelectionMatches, search, searchKeymap } from "@codemirror/search";
  import { Annotation, EditorState, Prec, StateField, type Extension } from "@codemirror/state";
  import { drawSelection, EditorView, highlightActiveLine, keymap, lineNumbers, showTooltip, tooltips, type Tooltip } from "@codemirror/view";
  import { onDestroy, onMount, untrack } from "svelte";
  import type { Fault } from "../../api/types";
  import { difference, type Folder, type Piece } from "../folder.svelte";
  import { sources, type Vocabulary } from "./complete";
  import { actionMarks, look } from "./look";

  type Props = {
    folder: Folder;
    path: string;
    piece?: Piece; // followed by the folder; undefined for the whole file
    faults: Fault[];
    vocabulary: Vocabulary;
    tall?: boolean; // use the available height
    undo: () => void;
    redo: () => void;
    onselect?: (from: number, to: number) => void; // offsets in the file
    onsetting?: (path: string, from: number, to: number) => void; // called when a selection should become a setting
    at?: { line: number; column: number; turn: number } | null; // where to put the cursor
  };
  let { folder, path, piece, faults, vocabulary, tall = false, undo, redo, onselect, onsetting, at = null }: Props = $props();

  let box: HTMLDivElement;
  let view: EditorView | undefined = $state.raw();
  const outside = Annotation.define<boolean>();
  const start = () => piece?.from ?? 0;
  const text = () => (piece ? folder.text(path).slice(piece.from, piece.to) : folder.text(path));

  function language(): Extension {
    const complete = (language: { data: { of(value: object): Extension } }) => sources(path, vocabulary).map((autocomplete) => language.data.of({ autocomplete }));
    if (path.endsWith(".html")) return [html({ autoCloseTags: true }), complete(htmlLanguage), actionMarks];
    if (path.endsWith(".css")) return [css(), complete(cssLanguage)];
    if (path.endsWith(".json")) return [json(), complete(jsonLanguage)];
    if (/\.(ts|js)$/.test(path)) return [javascript({ typescript: path.endsWith(".ts") }), complete(path.endsWith(".ts") ? typescriptLanguage : javascriptLanguage)];
    return [];
  }

  function setting(v: EditorView) {
    const { from, to } = v.state.selection.main;
    onsetting?.(path, start() + from, start() + to);
  }

  // A selection on one line can become a setting: the button appears below it.
  const offer = StateField.define<Tooltip | null>({
    create: () => null,
    update(_, { state }) {
      const { from, to, empty } = state.selection.main;
      if (empty || state.doc.lineAt(from).number != state.doc.lineAt(to).number || /\.json$/.test(path)) return null;
      return {
        pos: from,
        arrow: false,
        create: (v) => {
          const dom = document.createElement("button");
          dom.type = "button";
          dom.className = "cm-offer";
          dom.innerHTML = "Make setting <kbd>F2</kbd>";
          dom.onmousedown = (e) => e.preventDefault(); // keeps the selection
          dom.onclick = () => setting(v);
          return { dom };
        },
      };
    },
    provide: (field) => showTooltip.from(field),
  });

  onMount(() => {
    view = new EditorView({
      parent: box,
      // Changes are sent to the preview first and drawn here afterwards, because the two are
      // separate processes and work in parallel.
      dispatchTransactions(transactions, v) {
        for (const t of transactions) {
          if (!t.docChanged || t.annotation(outside)) continue;
          // From the end, so that earlier offsets stay valid.
          const list: [number, number, string][] = [];
          t.changes.iterChanges((fromA, toA, _b, _c, inserted) => list.push([fromA, toA, inserted.toString()]));
          const origin = start();
          for (const [from, to, insert] of list.reverse()) folder.type(path, origin + from, origin + to, insert);
        }
        v.update(transactions);
      },
      state: EditorState.create({
        doc: text(),
        extensions: [
          lineNumbers({ formatNumber: (n) => String(n + (piece ? folder.text(path).slice(0, start()).split("\n").length - 1 : 0)) }),
          drawSelection(),
          highlightActiveLine(),
          bracketMatching(),
          closeBrackets(),
          indentOnInput(),
          indentUnit.of("  "),
          autocompletion({ icons: false }),
          tooltips({ position: "fixed", parent: document.body }),
          highlightSelectionMatches(),
          search({ top: true }),
          EditorView.lineWrapping,
          language(),
          look,
          onsetting ? offer : [],
          Prec.highest(
            keymap.of([
              { key: "Mod-z", run: () => (undo(), true), preventDefault: true },
              { key: "Mod-Shift-z", run: () => (redo(), true), preventDefault: true },
              { key: "Mod-y", run: () => (redo(), true), preventDefault: true },
              { key: "F2", run: (v) => (setting(v), true), preventDefault: true },
            ]),
          ),
          keymap.of([...closeBracketsKeymap, ...completionKeymap, ...searchKeymap, ...defaultKeymap, indentWithTab]),
          EditorView.contentAttributes.of({ "aria-label": `${path}${piece ? ", a part of it" : ""}. Escape, then Tab, leaves the editor.` }),
          EditorView.updateListener.of((update) => {
            if (update.selectionSet || update.docChanged) {
              const { from, to } = update.state.selection.main;
              onselect?.(start() + from, start() + to);
            }
          }),
        ],
      }),
    });
  });
  onDestroy(() => view?.destroy());

  $effect(() => {
    const wanted = text(); // also after a change by another editor
    if (!view) return;
    const doc = view.state.doc.toString();
    if (doc != wanted) {
      const { from, to, insert } = difference(doc, wanted);
      view.dispatch({ changes: { from, to, insert }, annotations: outside.of(true) });
    }
  });

  let marked = false; // whether anything is underlined
  $effect(() => {
    const whole = folder.text(path);
    const list = faults.filter((f) => f.path == path);
    if (!view) return;
    const marks: Diagnostic[] = [];
    for (const f of list) {
      const from = offsetOf(whole, f.line, f.column) - start();
      const to = from + lengthOf(whole, from + start(), f.length ?? 1);
      if (f.line < 1 || from < 0 || from > view.state.doc.length) continue;
      marks.push({ from, to: Math.min(to, view.state.doc.length), severity: f.warning ? "warning" : "error", message: `${f.what}\n${f.fix}` });
    }
    if (marks.length || marked) view.dispatch(setDiagnostics(view.state, marks));
    marked = marks.length > 0;
  });

  $effect(() => {
    if (!view || !at) return;
    const place = at;
    const v = view;
    untrack(() => {
      // Once per request, because typing then moves the cursor.
      const pos = Math.max(0, Math.min(v.state.doc.length, offsetOf(folder.text(path), place.line, place.column) - start()));
      v.dispatch({ selection: { anchor: pos }, effects: EditorView.scrollIntoView(pos, { y: "center" }) });
      v.focus();
    });
  });

  // Faults count columns in characters; texts here are in UTF-16 code units.
  function offsetOf(whole: string, line: number, column: number): number {
    let offset = 0;
    for (let l = 1; l < line; l++) {
      const end = whole.indexOf("\n", offset);
      if (end < 0) return whole.length;
      offset = end + 1;
    }
    return offset + lengthOf(whole, offset, column - 1);
  }
  function lengthOf(whole: string, from: number, characters: number): number {
    let at = from;
    for (let i = 0; i < characters && at < whole.length; i++) at += whole.codePointAt(at)! > 0xffff ? 2 : 1;
    return at - from;
  }
</script>

<div bind:this={box} class={["min-w-0 overflow-hidden", tall ? "h-full lg:contain-strict [&_.cm-editor]:h-full" : "[&_.cm-scroller]:max-h-72 [&_.cm-scroller]:overflow-auto"]}></div>
