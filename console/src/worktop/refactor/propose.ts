// Proposes settings for a page that was just imported: what customers are likely to change.
import { allValues, type Files, type Found, type Occurrence } from "./find";
import { applied } from "./edit";
import { valueNode } from "./json";
import { makeSettings, type Changed } from "./setting";

export interface Proposal {
  found: Found;
  label: string;
  kind: string; // one of kinds
  kinds: string[]; // the types that it can have
  taken: boolean;
  places: Occurrence[];
  key?: string; // of a setting that the import has made already; only its label can change
}

export const kindLabels: Record<string, string> = { text: "Text", lines: "Text of several lines", link: "Link", image: "Image", colour: "Colour", gradient: "Gradient", number: "Number", slider: "Slider" };

// Sizes that customers change; other numbers of a stylesheet are its own matter.
const sizes = ["font-size", "border-radius", "gap", "rotate", "opacity", "letter-spacing", "column-count"];
const most = 40;

export function proposals(files: Files): Proposal[] {
  const list: Proposal[] = [];
  const gone = (o: Occurrence) => list.some((p) => p.places.some((q) => q.path == o.path && q.from <= o.from && o.to <= q.to));
  const values = allValues(files);
  // Gradients first: their colours and angles belong to them.
  const rank = (f: Found) => (f.inferred.type == "gradient" ? 0 : 1);
  for (const { found, tag, property } of [...values].sort((a, b) => rank(a.found) - rank(b.found))) {
    if (list.length == most || gone(found.places[0]) || !wanted(found, tag, property)) continue;
    const places = found.places.filter((o, i) => (i == 0 || o.likely) && !gone(o));
    const kinds = kindsOf(found);
    list.push({ found, label: labelFor(found, tag, property), kind: kinds[0], kinds, taken: ticked(found), places });
  }
  const order = ["view.html", "style.css"];
  const at = (p: Proposal) => p.key ? 0 : (order.indexOf(p.places[0].path) + 1 || 3) * 1e7 + p.places[0].from;
  return distinct([...made(files), ...list].sort((a, b) => at(a) - at(b)));
}

// The settings that the import itself has made, such as images.
function made(files: Files): Proposal[] {
  let properties: Record<string, { default?: unknown; glass?: { type: string; label: Record<string, string> } }>;
  try {
    properties = JSON.parse(files["settings.json"]).properties ?? {};
  } catch {
    return [];
  }
  return Object.entries(properties).flatMap(([key, { default: value, glass }]) => {
    if (!glass) return [];
    const text = (value as { asset?: string } | undefined)?.asset ?? String(value ?? "");
    return [{ key, found: { text, inferred: { type: glass.type, schema: {}, glass: {}, about: "" }, label: "", places: [] }, label: Object.values(glass.label)[0] ?? key, kind: glass.type, kinds: [glass.type], taken: true, places: [] }];
  });
}

function wanted(found: Found, tag: string, property: string): boolean {
  const place = found.places[0];
  if (place.how == "style") return found.inferred.type != "number" || sizes.includes(property) || /deg$/.test(found.text);
  // An image from another server has no file that could be the default.
  if (found.inferred.type == "image") return /^assets\//.test(found.text);
  if (place.how == "view" && property) return property == "href" && tag == "a" && found.inferred.schema.format == "uri";
  return found.text.length > 1 || /\d/.test(found.text);
}

// Sizes and counts are offered, and left out unless somebody wants them.
const ticked = (found: Found) => found.inferred.type != "number" || /deg$/.test(found.text);

function kindsOf({ inferred }: Found): string[] {
  if (inferred.type == "text" && inferred.schema.format == "uri") return ["link"];
  if (inferred.type == "text") return inferred.glass.control == "lines" ? ["lines", "text"] : ["text", "lines"];
  if (inferred.type == "number") return inferred.glass.control == "slider" ? ["slider", "number"] : ["number"];
  return [inferred.type];
}

const headings = /^h[1-6]$/i;

function labelFor(found: Found, tag: string, property: string): string {
  if (found.places[0].how != "view" || property) return found.label;
  if (headings.test(tag)) return "Title";
  if (/^(p|blockquote|dd)$/i.test(tag)) return "Description";
  if (/^(a|button)$/i.test(tag)) return "Button text";
  return found.label;
}

// Equal labels get numbers.
function distinct(list: Proposal[]): Proposal[] {
  const seen = new Map<string, number>();
  return list.map((p) => {
    const n = (seen.get(p.label) ?? 0) + 1;
    seen.set(p.label, n);
    return n == 1 ? p : { ...p, label: `${p.label} ${n}` };
  });
}

// The files with the settings that were taken.
export function settled(files: Files, list: Proposal[], language = "en"): Changed | string {
  const relabelled = labels(files["settings.json"], list, language);
  if (relabelled) files = { ...files, "settings.json": relabelled };
  const wishes = list.filter((p) => p.taken && !p.key).map((p) => ({ found: asKind(p), label: p.label.trim() || "Setting", chosen: p.places }));
  const changed: Changed = relabelled ? { "settings.json": relabelled } : {};
  if (!wishes.length) return changed;
  const made = makeSettings(files, wishes, language);
  return typeof made == "string" ? made : { ...changed, ...made.files };
}

// settings.json with the labels of settings that existed already; "" if none has changed.
function labels(source: string, list: Proposal[], language: string): string {
  const edits = list.flatMap((p) => {
    const node = p.key ? valueNode(source, ["properties", p.key, "glass", "label", language]) : null;
    const text = JSON.stringify(p.label.trim() || p.key);
    return node && source.slice(node.from, node.to) != text ? [{ from: node.from, to: node.to, insert: text }] : [];
  });
  return edits.length ? applied(source, edits) : "";
}

function asKind({ found, kind }: Proposal): Found {
  const { control: _, ...glass } = found.inferred.glass;
  const { format: __, ...schema } = found.inferred.schema;
  if (kind == "lines") return { ...found, inferred: { ...found.inferred, schema: { ...schema, maxLength: Math.max(1000, Number(schema.maxLength)) }, glass: { ...glass, control: "lines" } } };
  if (kind == "text") return { ...found, inferred: { ...found.inferred, schema, glass } };
  if (kind == "number") return { ...found, inferred: { ...found.inferred, glass } };
  return found;
}
