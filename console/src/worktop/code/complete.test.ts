import { CompletionContext } from "@codemirror/autocomplete";
import { EditorState } from "@codemirror/state";
import { expect, test } from "vitest";
import type { PreviewedFolder } from "../../api/types";
import { sources } from "./complete";

const setting = (key: string, type: string, more = {}) => ({ key, type, label: { en: key }, look: false, ...more });
const widget = {
  settings: [
    setting("heading", "text"),
    setting("rows", "list"),
    setting("cornerRadius", "number", { look: true }),
    setting("shape", "choice", { look: true, options: [{ value: "round" }, { value: "square" }] }),
  ],
  functions: ["say", "icon", "formatDate"],
  messages: ["until", "days"],
  mount: ["rows"],
  types: ["text", "colour"],
} as unknown as PreviewedFolder;
const files: Record<string, string> = {
  "view.html": `<div class="card {{if .settings.rows}}wide{{end}}"><b class="name"></b></div>`,
  "style.css": `.pocket { gap: 0.5em } .card:hover, .lead > .name {}`,
};

// The labels that are offered where | stands, "" where nothing is.
async function offered(path: string, text: string, explicit = false) {
  const at = text.indexOf("|");
  const state = EditorState.create({ doc: text.slice(0, at) + text.slice(at + 1) });
  const [source] = sources(path, { widget, text: (p) => files[p] ?? "" });
  const result = await source(new CompletionContext(state, at, explicit));
  if (!result) return "";
  return `${state.sliceDoc(result.from, at)}: ${result.options.map((o) => o.label).join(" ")}`;
}

test.each([
  ["view.html", "<p>{{.settings.he|}}", "he: heading rows cornerRadius shape"],
  ["view.html", "<p>{{if eq $.settings.|", ": heading rows cornerRadius shape"],
  ["view.html", `<p>{{say "un|`, "un: until days"],
  ["view.html", "<p>{{f|", "f: say icon formatDate .settings if range with else end define template"],
  ["view.html", "<p>{{|", ""],
  ["view.html", "<p>{{end}} f|", ""],
  ["view.html", `<p class="ca|`, "ca: card lead name"],
  ["view.html", `<p class="card na|`, "na: card lead name"],
  ["view.html", `<p title="ca|`, ""],
  ["style.css", ".card { border-radius: var(|", ": --corner-radius --shape"],
  ["style.css", ".card { border-radius: var(--co|", "--co: --corner-radius --shape"],
  ["style.css", ".pocket[da|", ""],
  ["style.css", ".pocket[data-s|", "data-s: data-corner-radius data-shape"],
  ["style.css", `.pocket[data-shape="r|`, "r: round square"],
  ["style.css", `.pocket[data-other="r|`, "r: "],
  ["style.css", ".card, .na|", "na: card wide name pocket"],
  ["style.css", "a { width: 1.|", ""],
  ["mount.ts", "const a = settings.r|", "r: rows"],
  ["mount.ts", "const a = se|", ""],
  ["settings.json", `"a": { "type": "nu|`, "nu: string number integer boolean object array"],
  ["settings.json", `"a": { "type": "string", "default": "", "glass": { "type": "|`, ": text colour"],
  ["starters/tide.json", `  "|`, ": heading rows cornerRadius shape"],
  ["widget.json", `  "ti|`, ""],
])("%s: %s", async (path, text, want) => expect(await offered(path, text)).toBe(want));

test("asked for by hand, everything is offered where anything can stand", async () => {
  expect(await offered("view.html", "<p>{{|", true)).toContain("say icon formatDate");
});

test("nothing is known of a widget that has not been read yet", async () => {
  const state = EditorState.create({ doc: "{{.settings." });
  const [source] = sources("view.html", { widget: null, text: () => "" });
  expect((await source(new CompletionContext(state, 12, false)))?.options).toEqual([]);
});
