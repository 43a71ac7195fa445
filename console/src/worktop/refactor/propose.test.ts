import { expect, test } from "vitest";
import { proposals, settled } from "./propose";

const files = {
  "widget.json": `{ "format": 1, "name": "card", "title": { "en": "Card" }, "languages": ["en"] }`,
  "settings.json": `{ "type": "object", "properties": {} }`,
  "view.html": `<div class="card"><img src="assets/eske.svg" alt="Eske"><h2>Eske</h2><p>Fires the kiln.</p><a href="https://kelp.example/">More</a><svg fill="#0b6b63"></svg></div>`,
  "style.css": `.card { background: linear-gradient(120deg, #d7ebe6 0%, #0b6b63 100%); color: #17233a; padding: 20px; border-radius: 12px; }
.card h2 { color: #0b6b63; font-size: 22px; }`,
  "mount.js": `export default function mount({ root }) { const speed = 40; root.dataset.speed = speed; }`,
};

test("proposes what customers change, each with a label and a type", () => {
  expect(proposals(files).map((p) => [p.label, p.kind, p.taken, p.places.length])).toEqual([
    ["Image", "image", true, 1],
    ["Title", "text", true, 1],
    ["Description", "lines", true, 1],
    ["Link", "link", true, 1],
    ["Button text", "text", true, 1],
    ["Background of card", "gradient", true, 1],
    ["Text colour of card", "colour", true, 1],
    ["Corners of card", "slider", false, 1],
    ["Text colour of card 2", "colour", true, 2],
    ["Text size of card", "slider", false, 1],
    ["Speed", "number", false, 1],
  ]);
});

test("what the import has made is listed, and can get another label", () => {
  const given = { ...files, "settings.json": `{ "type": "object", "properties": { "image": { "default": { "asset": "assets/a.svg" }, "glass": { "type": "image", "label": { "en": "Image: Eske" } } } } }` };
  const list = proposals(given);
  expect([list[0].key, list[0].label, list[0].found.text]).toEqual(["image", "Image: Eske", "assets/a.svg"]);
  const made = settled(given, list.map((p) => (p.key ? { ...p, label: "Photo" } : { ...p, taken: false })));
  expect(JSON.parse((made as Record<string, string>)["settings.json"]).properties.image.glass.label).toEqual({ en: "Photo" });
});

test("makes all that are taken at once, in every file", () => {
  const list = proposals(files).map((p) => ({ ...p, taken: true, kind: p.label == "Title" ? "lines" : p.kind }));
  const made = settled(files, list) as Record<string, string>;
  const schema = JSON.parse(made["settings.json"]).properties;
  expect(Object.keys(schema)).toHaveLength(11);
  expect(schema.title.glass.control).toBe("lines");
  expect(schema.backgroundOfCard.default).toEqual({ angle: 120, stops: [{ colour: "#d7ebe6", at: 0 }, { colour: "#0b6b63", at: 100 }] });
  expect(made["view.html"]).toBe(`<div class="card">{{if .settings.image.shown}}{{image .settings.image "100vw"}}{{end}}<h2>{{.settings.title}}</h2><p>{{.settings.description}}</p><a href="{{.settings.link}}">{{.settings.buttonText}}</a><svg fill="{{.settings.textColourOfCard2}}"></svg></div>`);
  expect(made["style.css"]).toContain("background: var(--background-of-card)");
  expect(made["style.css"]).not.toMatch(/#/);
  expect(made["mount.js"]).toContain("mount({ root, settings }) { const speed = settings.speed;");
  expect(JSON.parse(made["widget.json"]).mount.settings).toEqual(["speed"]);
  expect(settled(files, list.map((p) => ({ ...p, taken: false })))).toEqual({});
});
