import { expect, it } from "vitest";
import { behind } from "./behind";
import { readSheet } from "./css";
import { Folder } from "./folder.svelte";
import type { Part } from "./frame";
import type { Worktop } from "./worktop.svelte";

const files = {
  "view.html": `<section class="tide">\n  <h2 class="title">{{.settings.heading}}</h2>\n  <ul>{{range .settings.rows}}<li class="row {{.kind}}">{{say "until"}}</li>{{end}}</ul>\n</section>\n`,
  "style.css": `.tide { color: var(--ink); padding: 4px; }\n.title { font-size: 20px; }\n.title::before { content: "~"; }\n@media (min-width: 1px) { .title { color: red; border-radius: var(--corner); } }\n[data-shape="round"] .row { border-radius: 9px; }\n`,
  "settings.json": `{ "properties": { "heading": { "type": "string" }, "ink": { "type": "string" }, "corner": {} } }`,
  "messages/en.json": `{ "until": "until then" }`,
  "mount.ts": `export default function mount({ root }: Pocket) {\n  const title = root.querySelector(".title")!;\n  title.textContent += "!";\n}\n`,
};
const place = (of: string) => {
  const start = files["view.html"].indexOf(of);
  return { start, open: files["view.html"].indexOf(">", start) + 1 };
};
const end = (of: string) => files["view.html"].indexOf(of) + of.length;
const elements = [
  { name: "section", ...place("<section"), end: end("</section>"), parent: -1 },
  { name: "h2", ...place("<h2"), end: end("</h2>"), parent: 0, settings: ["heading"] },
  { name: "ul", ...place("<ul"), end: end("</ul>"), parent: 0, settings: ["rows"] },
  { name: "li", ...place("<li"), end: end("</li>"), parent: 2, settings: ["rows"], messages: ["until", "gone"] },
];

function worktop(texts: Record<string, string> = files): Worktop {
  const folder = new Folder();
  folder.load(Object.entries(texts).map(([path, text]) => ({ path, text, digest: "x" })));
  return {
    folder,
    previews: {
      elements,
      elementsOf: files["view.html"],
      sheet: readSheet(texts["style.css"]),
      originOf: ([[line]]: [number, number][]) => (line > 90 ? null : { path: "mount.ts", line, column: 3 }),
    },
    widget: {
      languages: ["en", "ar"],
      settings: [
        { key: "heading", type: "text", label: { en: "Heading" } },
        { key: "ink", type: "colour", label: { de: "Tinte" }, look: true },
        { key: "corner", type: "number", label: { en: "Corner" }, look: true },
        { key: "shape", type: "choice", label: { en: "Shape" }, look: true },
      ],
    },
  } as unknown as Worktop;
}

const step = (mark: number | null, name: string, rules: number[], more = {}) => ({ mark, name, rules, pseudo: {}, spots: [], ...more });
const part = (...steps: Part["steps"]): Part => ({ steps, properties: {} });
const text = (path: keyof typeof files, r: { from: number; to: number } | null) => r && files[path].slice(r.from, r.to);

it("finds what makes a part", () => {
  const b = behind(worktop(), part(step(1, "h2", [1, 3], { pseudo: { "::before": [2] }, spots: [[3, 3], [2, 9], [99, 1]] }), step(0, "section", [0]), step(null, "div", [])));
  expect(b.mark).toBe(1);
  expect(b.path).toEqual([
    { mark: 0, label: ".tide" },
    { mark: 1, label: ".title" },
  ]);
  expect(text("view.html", b.view)).toBe(`<h2 class="title">{{.settings.heading}}</h2>`);
  // The last rule comes first, with what it depends on.
  expect(b.rules.map((r) => [text("style.css", r), r.note])).toEqual([
    [".title { color: red; border-radius: var(--corner); }", "@media (min-width: 1px)"],
    [`.title::before { content: "~"; }`, "::before"],
    [".title { font-size: 20px; }", ""],
  ]);
  expect(b.around.map((r) => [text("style.css", r), r.note])).toEqual([[".tide { color: var(--ink); padding: 4px; }", ".tide: color"]]);
  expect(b.statements.map((s) => text("mount.ts", s))).toEqual([`  const title = root.querySelector(".title")!;`, `  title.textContent += "!";`]);
  expect(b.settings.map((s) => [s.key, s.label, s.type, text("settings.json", s.range)])).toEqual([
    ["heading", "Heading", "text", `"heading": { "type": "string" }`],
    ["corner", "Corner", "number", `"corner": {}`],
  ]);
  expect(b.selector).toBe(".title");
  expect(b.made).toBe("");
});

it("finds settings by attributes of the stylesheet, labels in any language, and words", () => {
  const rows = behind(worktop(), part(step(3, "li", [4]), step(2, "ul", []), step(0, "section", [0])));
  expect(rows.path.map((p) => p.label)).toEqual([".tide", "ul", ".row"]);
  expect(rows.settings.map((s) => [s.key, s.range])).toEqual([
    ["rows", null],
    ["shape", null],
  ]);
  expect(rows.messages.map((m) => [m.path, text("messages/en.json", m)])).toEqual([["messages/en.json", `"until": "until then"`]]);
  const root = behind(worktop(), part(step(0, "section", [0])));
  expect(root.settings.map((s) => s.label)).toEqual(["Tinte"]);
});

it("says of what the script has made where it was made", () => {
  const b = behind(worktop(), part(step(null, "b", []), step(2, "ul", []), step(0, "section", [])));
  expect(b.mark).toBe(2);
  expect(b.made).toContain("<b> is not in the view");
  expect(text("view.html", b.view)).toMatch(/^<ul>.*<\/ul>$/);
  expect(b.path.map((p) => p.label)).toEqual([".tide", "ul", "b"]);
  expect(b.selector, "an element without a class").toBe(".pocket ul");
});

it("shows no piece of a view that has been changed since", () => {
  const b = behind(worktop({ ...files, "view.html": "<p>new</p>" }), part(step(1, "h2", [1])));
  expect(b.view).toBe(null);
  expect(b.rules.length).toBe(1);
  expect(b.path).toEqual([{ mark: 1, label: "h2" }]);
});

it("cuts a long piece to its start tag, and knows rules that have gone", () => {
  const long = worktop();
  const source = files["view.html"].replace("<ul>", "<ul>" + "\n".repeat(60));
  long.folder.load([{ path: "view.html", text: source, digest: "y" }]);
  Object.assign(long.previews, { elementsOf: source, elements: elements.map((e) => (e.name == "section" ? { ...e, end: source.length - 1 } : e)) });
  const b = behind(long, part(step(0, "section", [0, 77], { pseudo: { "::after": [78] } })));
  expect(b.view).toEqual({ from: 0, to: elements[0].open });
  expect(b.rules.length).toBe(1);
});
