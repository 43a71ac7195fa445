import { describe, expect, test } from "vitest";
import { valueAt, type Files, type Found } from "./find";
import { keyFrom } from "./key";
import { duplicateSetting, keysOf, makeSetting, removeSetting, renameSetting, usesOf } from "./setting";
import { asColour } from "./value";

const files = (): Files => ({
  "widget.json": `{ "format": 1, "name": "x", "title": { "en": "X" }, "languages": ["en"] }`,
  "settings.json": `{
  "type": "object",
  "properties": {
    "heading": { "type": "string", "default": "Hi", "glass": { "type": "text", "order": 4, "label": { "en": "Heading" } } }
  }
}`,
  "view.html": `<section class="card">
  <h2>{{.settings.heading}}, dear  visitor!</h2>
  <a href="https://a.example/boats?x=1&amp;y=2">Boats &amp; more</a>
  <img class="photo" src="assets/boat.jpg" alt="A boat">
  <svg fill="#3aa77b"></svg>
  {{range .settings.rows}}<b>Boats &amp; more</b>{{end}}
  {{define "part"}}<i>Alone</i>{{end}}
</section>`,
  "style.css": `.card { padding: 14px; border-radius: 14px; color: #3aa77b; rotate: 45deg; line-height: 1.5; margin-top: 2.5rem; }
.card:hover { color: rgb(58 167 123); padding: 14px; background: url("x.png"); }
@media (min-width: 600px) { .card { padding: 20px; } }`,
  "mount.ts": `import { other } from "./other";
const outside = 3141;
export default function mount({ root }: Pocket) {
  const pause = 400;
  setTimeout(() => root.remove(), 400);
  root.title = "It's \\"on\\"";
}`,
});

// The value in a file that begins with a text, the nth of them.
function at(all: Files, path: string, text: string, nth = 0): Found | string {
  let from = -1;
  for (let i = 0; i <= nth; i++) from = all[path].indexOf(text, from + 1);
  expect(from, `${text} stands in ${path}`).toBeGreaterThanOrEqual(0);
  return valueAt(all, path, from, from + text.length);
}

const found = (f: Found | string): Found => {
  expect(f).toBeTypeOf("object");
  return f as Found;
};

test.each([
  ["#3aa77b", "#3aa77b"],
  ["#3A7", "#33aa77"],
  ["#3a77", "#33aa7777"],
  ["#3aa77bff", "#3aa77b"],
  ["rgb(58, 167, 123)", "#3aa77b"],
  ["rgb(58 167 123 / 50%)", "#3aa77b80"],
  ["hsl(156 48% 44%)", "#3aa67b"],
  ["hsl(0.5turn 100% 50%)", "#00ffff"],
  ["tomato soup", null],
  ["rgb(1)", null],
])("colour %s", (text, want) => expect(asColour(text)).toBe(want));

test.each([
  ["Corner radius of the card", "cornerRadiusOfTheCard"],
  ["Größe", "grosse"],
  ["Łódź, überall!", "lodzUberall"],
  ["URL", "url"],
  ["3 columns", "columns"],
  ["مرحبا", "setting"],
  ["small", "small2"],
  ["Heading", "heading2"],
  ["a ".repeat(60), "aAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAAA"],
  ["Visitor's own", "visitorsOwn"],
])("key of %s", (label, want) => {
  const key = keyFrom(label, ["heading"]);
  expect(key).toBe(want);
  expect(key).toMatch(/^[a-z][a-zA-Z0-9]{0,39}$/);
});

describe("a value of the stylesheet", () => {
  test("colour: all like it, however they are written", () => {
    const all = files();
    const f = found(at(all, "style.css", "#3aa77b"));
    expect(f.label).toBe("Text colour of card");
    expect(f.places.map((o) => [o.path, o.line, o.likely])).toEqual([
      ["style.css", 1, true],
      ["style.css", 2, true],
      ["view.html", 5, true],
    ]);
    const made = makeSetting(all, f, "Sea green", f.places);
    if (typeof made == "string") throw new Error(made);
    expect(made.key).toBe("seaGreen");
    expect(made.files["style.css"]).toContain("color: var(--sea-green); rotate");
    expect(made.files["style.css"]).toContain("color: var(--sea-green); padding");
    expect(made.files["view.html"]).toContain(`<svg fill="{{.settings.seaGreen}}">`);
    expect(JSON.parse(made.files["settings.json"]).properties.seaGreen).toEqual({
      type: "string",
      default: "#3aa77b",
      glass: { type: "colour", order: 5, label: { en: "Sea green" }, look: true },
    });
    expect(made.files["settings.json"].startsWith(all["settings.json"].slice(0, all["settings.json"].lastIndexOf("}\n  }") - 4)), "what was there stays as it was written").toBe(true);
  });
  test("lengths: the same property's are likely, others are offered", () => {
    const f = found(at(files(), "style.css", "14px"));
    expect(f.inferred.glass).toEqual({ control: "slider", look: true, unit: "px" });
    expect(f.inferred.schema).toEqual({ type: "number", minimum: 0, maximum: 46, multipleOf: 1, default: 14 });
    expect(f.places.map((o) => [o.line, o.likely])).toEqual([
      [1, true],
      [1, false],
      [2, true],
    ]);
  });
  test("a part of a value chooses all of it", () => expect(found(at(files(), "style.css", "3aa77b")).text).toBe("#3aa77b"));
  test.each([
    ["45deg", { type: "number", minimum: 0, maximum: 360, multipleOf: 1, default: 45 }, "deg"],
    ["1.5", { type: "number", minimum: 0, maximum: 4.9, multipleOf: 0.1, default: 1.5 }, undefined],
  ])("%s", (text, schema, unit) => {
    const f = found(at(files(), "style.css", text));
    expect(f.inferred.schema).toEqual(schema);
    expect(f.inferred.glass.unit).toBe(unit);
  });
  test.each([
    ["2.5rem", "unit"],
    ["600px", "condition"],
    [".card", "declaration"],
    ["x.png", "a colour, a linear gradient or a number"],
  ])("%s is refused in words", (text, why) => expect(at(files(), "style.css", text)).toContain(why));
});

describe("a gradient of the stylesheet", () => {
  const style = (value: string): Files => ({ ...files(), "style.css": `.card { background: ${value}; }` });
  test.each([
    ["linear-gradient(#0b6b63, rgb(20 40 60))", { angle: 180, stops: [{ colour: "#0b6b63", at: 0 }, { colour: "#14283c", at: 100 }] }],
    ["linear-gradient(to right, #000, #fff 20%, #f00)", { angle: 90, stops: [{ colour: "#000000", at: 0 }, { colour: "#ffffff", at: 20 }, { colour: "#ff0000", at: 100 }] }],
    ["linear-gradient(-0.25turn, #000 10%, #111, #222 30%)", { angle: 270, stops: [{ colour: "#000000", at: 10 }, { colour: "#111111", at: 20 }, { colour: "#222222", at: 30 }] }],
  ])("%s", (text, value) => {
    const f = found(at(style(text), "style.css", "linear-gradient"));
    expect([f.text, f.inferred.type, f.inferred.schema.default]).toEqual([text, "gradient", value]);
    expect(found(at(style(text), "style.css", "#")).inferred.type, "its colours can be settings of their own").toBe("colour");
  });
  test.each(["linear-gradient(#000 50%, #fff 20%)", "linear-gradient(#000)", "linear-gradient(#000, #fff 4px)", "radial-gradient(#000, #fff)"])("%s is none", (text) => {
    expect(at(style(text), "style.css", text.slice(0, 10))).toContain("linear gradient");
  });
});

describe("a value of the view", () => {
  test("words, wherever they stand", () => {
    const all = files();
    const f = found(at(all, "view.html", "Boats &amp; more"));
    expect(f.inferred.schema.default).toBe("Boats & more");
    expect(f.places.map((o) => o.line)).toEqual([3, 6]);
    const made = makeSetting(all, f, "Boats", f.places);
    if (typeof made == "string") throw new Error(made);
    expect(made.files["view.html"]).toContain(">{{.settings.boats}}</a>");
    expect(made.files["view.html"]).toContain("<b>{{$.settings.boats}}</b>");
  });
  test("a part of a sentence", () => {
    const all = files();
    const f = found(at(all, "view.html", "visitor"));
    expect(f.text).toBe("visitor");
    expect(at(all, "view.html", ", dear  visitor!")).toMatchObject({ text: ", dear visitor!" });
  });
  test("a link keeps its address", () => {
    const f = found(at(files(), "view.html", "https://a.example"));
    expect(f.inferred.schema).toMatchObject({ format: "uri", default: "https://a.example/boats?x=1&y=2" });
  });
  test("an image becomes an image setting", () => {
    const all = files();
    const f = found(at(all, "view.html", "assets/boat.jpg"));
    const made = makeSetting(all, f, "Photo", f.places);
    if (typeof made == "string") throw new Error(made);
    expect(made.files["view.html"]).toContain(`{{if .settings.photo.shown}}{{image .settings.photo "100vw" "photo"}}{{end}}`);
    expect(JSON.parse(made.files["settings.json"]).properties.photo.default).toEqual({ asset: "assets/boat.jpg", alt: "A boat" });
  });
  test("a colour that only the view shows is no look", () => {
    const all = { ...files(), "style.css": "" };
    const f = found(at(all, "view.html", "#3aa77b"));
    const made = makeSetting(all, f, "Fill", f.places);
    if (typeof made == "string") throw new Error(made);
    expect(JSON.parse(made.files["settings.json"]).properties.fill.glass.look).toBeUndefined();
  });
  test.each([
    ["Alone", "{{define}}"],
    ["card", "connects the widget's parts"],
    [".settings.heading", "not fixed"],
  ])("%s is refused in words", (text, why) => expect(at(files(), "view.html", text)).toContain(why));
});

describe("a value of the script", () => {
  test("number", () => {
    const all = files();
    const f = found(at(all, "mount.ts", "400"));
    expect(f.label).toBe("Pause");
    const made = makeSetting(all, f, "Pause", f.places);
    if (typeof made == "string") throw new Error(made);
    expect(made.files["mount.ts"]).toContain("mount({ root, settings }: Pocket)");
    expect(made.files["mount.ts"]).toContain("const pause = settings.pause;");
    expect(made.files["mount.ts"]).toContain("root.remove(), settings.pause)");
    expect(JSON.parse(made.files["widget.json"]).mount.settings).toEqual(["pause"]);
  });
  test("text", () => expect(found(at(files(), "mount.ts", `"It's`)).inferred.schema.default).toBe(`It's "on"`));
  test.each([
    ["3141", "only inside the mount function"],
    [`"./other"`, "file"],
    ["root.remove", "Select a number"],
  ])("%s is refused in words", (text, why) => expect(at(files(), "mount.ts", text)).toContain(why));
});

// Settings of a widget that we ship, so that real files go through it.
const folders = import.meta.glob("../../../../widgets/person/**/*.{json,html,css,ts}", { query: "?raw", import: "default", eager: true }) as Record<string, string>;

function shipped(name: string): Files {
  const under = `/widgets/${name}/`;
  return Object.fromEntries(Object.entries(folders).map(([path, text]) => [path.slice(path.indexOf(under) + under.length), text]));
}

test("renaming reaches every file, and back again leaves each as it was", () => {
  const all = shipped("person");
  for (const key of keysOf(all)) {
    const changed = renameSetting(all, key, "somethingElse");
    const after = { ...all, ...changed };
    expect(usesOf(after, key), key).toEqual([]);
    expect(keysOf(after)).toContain("somethingElse");
    expect(Object.keys(changed).length, `${key} is used somewhere`).toBeGreaterThan(1);
    expect({ ...after, ...renameSetting(after, "somethingElse", key) }, key).toEqual(all);
  }
});

test("doubling", () => {
  const all = shipped("person");
  const made = duplicateSetting(all, "name", "Name at home");
  if (typeof made == "string") throw new Error(made);
  const { properties } = JSON.parse(made.files["settings.json"]);
  expect(made.key).toBe("nameAtHome");
  expect(properties.nameAtHome.glass.label.en).toBe("Name at home");
  expect(properties.nameAtHome.maxLength).toBe(120);
  expect(Object.keys(properties).indexOf("nameAtHome")).toBe(Object.keys(properties).indexOf("name") + 1);
  expect(JSON.parse(made.files["sample.json"]).settings.nameAtHome).toBe(JSON.parse(all["sample.json"]).settings.name);
});

test("removing shows what is left, or puts the default there", () => {
  const all = shipped("person");
  const plain = removeSetting(all, "accent", false);
  expect(keysOf({ ...all, ...plain.files })).not.toContain("accent");
  expect(plain.left.length).toBe([...all["style.css"].matchAll(/--accent\b/g)].length);
  expect(plain.left.every((u) => u.around.includes("--accent"))).toBe(true);
  const inlined = removeSetting(all, "accent", true);
  expect(inlined.left).toEqual([]);
  expect(inlined.files["style.css"]).toContain("outline: 3px solid #0b6b63");
  for (const [path, text] of Object.entries(inlined.files)) if (path.endsWith(".json")) expect(() => JSON.parse(text), path).not.toThrow();
});
