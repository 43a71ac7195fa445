// The kind of setting for a value in a file.

export interface Inferred {
  type: string; // of the setting
  schema: Record<string, unknown>; // keywords other than "glass"
  glass: Record<string, unknown>; // members other than label and group
  about: string; // in words
}

// Converts #rgb, #rrggbb, both with transparency, rgb() and hsl() to the format's notation: #rrggbb
// or #rrggbbaa; null for anything else (CSS Color 4).
export function asColour(text: string): string | null {
  const hex = /^#([\da-f]{3,4}|[\da-f]{6}|[\da-f]{8})$/i.exec(text.trim())?.[1].toLowerCase();
  if (hex) return "#" + (hex.length < 5 ? [...hex].map((c) => c + c).join("") : hex).replace(/^(.{6})ff$/, "$1");
  const call = /^(rgb|hsl)a?\(\s*([^)]*)\)$/i.exec(text.trim());
  if (!call) return null;
  const parts = call[2].split(/[\s,/]+/).filter(Boolean);
  if (parts.length < 3 || parts.length > 4) return null;
  const number = (t: string, whole: number) => (t.endsWith("%") ? (parseFloat(t) / 100) * whole : parseFloat(t));
  let rgb: number[];
  if (call[1].toLowerCase() == "rgb") rgb = parts.slice(0, 3).map((p) => number(p, 255));
  else {
    const turn = /turn$/.test(parts[0]) ? 360 : /rad$/.test(parts[0]) ? 180 / Math.PI : 1;
    const [h, s, l] = [parseFloat(parts[0]) * turn, number(parts[1], 1), number(parts[2], 1)].map((v, i) => (i && v > 1 ? v / 100 : v));
    const k = (n: number) => (n + h / 30) % 12;
    const a = s * Math.min(l, 1 - l);
    rgb = [0, 8, 4].map((n) => 255 * (l - a * Math.max(-1, Math.min(k(n) - 3, 9 - k(n), 1))));
  }
  const alpha = parts[3] === undefined ? 1 : number(parts[3], 1);
  if ([...rgb, alpha].some(Number.isNaN)) return null;
  const two = (n: number) => Math.max(0, Math.min(255, Math.round(n))).toString(16).padStart(2, "0");
  return "#" + rgb.map(two).join("") + (alpha < 1 ? two(alpha * 255) : "");
}

// Converts a linear gradient with positions in percent to the format's notation; null for anything
// else (CSS Images 3, section 3.1). Missing positions are spread evenly.
export function asGradient(text: string): { angle: number; stops: { colour: string; at: number }[] } | null {
  const inside = /^linear-gradient\((.*)\)$/is.exec(text.trim())?.[1];
  if (!inside) return null;
  const parts = inside.split(/,(?![^(]*\))/).map((part) => part.trim());
  const sides: Record<string, number> = { "to top": 0, "to right": 90, "to bottom": 180, "to left": 270 };
  let angle = 180;
  const turned = /^(-?[\d.]+)(deg|turn)$/.exec(parts[0]);
  if (turned) angle = Number(turned[1]) * (turned[2] == "turn" ? 360 : 1);
  else if (parts[0] in sides) angle = sides[parts[0]];
  if (turned || parts[0] in sides) parts.shift();
  const stops = parts.map((part) => {
    const [, colour, at] = /^(#\S+|[a-z]+\([^)]*\))(?:\s+([\d.]+)%)?$/i.exec(part) ?? [];
    return { colour: asColour(colour ?? ""), at: at === undefined ? NaN : Number(at) };
  });
  if (stops.length < 2 || stops.length > 8 || stops.some((s) => !s.colour)) return null;
  if (isNaN(stops[0].at)) stops[0].at = 0;
  if (isNaN(stops.at(-1)!.at)) stops.at(-1)!.at = 100;
  for (let i = 1; i < stops.length; i++) {
    if (!isNaN(stops[i].at)) continue;
    const next = stops.findIndex((s, j) => j > i && !isNaN(s.at));
    for (let j = i; j < next; j++) stops[j].at = stops[i - 1].at + ((stops[next].at - stops[i - 1].at) * (j - i + 1)) / (next - i + 1);
  }
  const rising = stops.every((s, i) => s.at <= 100 && (i == 0 || s.at >= stops[i - 1].at));
  return rising ? { angle: ((angle % 360) + 360) % 360, stops: stops.map((s) => ({ colour: s.colour!, at: Number(s.at.toFixed(2)) })) } : null;
}

// A number in a stylesheet with its unit, and a range around it.
const amount = /^(-?\d*\.?\d+)(px|em|%|ch|deg|s|ms|fr|)$/i;

export function fromStyle(text: string, property: string): Inferred | string {
  const colour = asColour(text);
  if (colour) return { type: "colour", schema: { type: "string", default: colour }, glass: { look: true }, about: `a colour, ${colour}` };
  const gradient = asGradient(text);
  if (gradient) return { type: "gradient", schema: { type: "object", default: gradient }, glass: { look: true }, about: `a gradient of ${gradient.stops.length} colours` };
  const match = amount.exec(text.trim());
  if (match) {
    const value = Number(match[1]);
    const unit = match[2].toLowerCase();
    const step = Number.isInteger(value) ? 1 : Number((10 ** -Math.min(3, (match[1].split(".")[1] ?? "").length)).toFixed(3));
    const whole = unit == "deg" ? 360 : unit == "%" ? 100 : property == "opacity" ? 1 : 0;
    const round = (n: number) => Number(n.toFixed(3));
    const most = whole && Math.abs(value) <= whole ? whole : Math.max(step, round(Math.ceil((Math.abs(value) * 3 + step * 4) / step) * step));
    const least = value < 0 ? -most : 0;
    return {
      type: "number",
      schema: { type: "number", minimum: least, maximum: most, multipleOf: step, default: value },
      glass: { control: "slider", look: true, ...(unit ? { unit } : {}) },
      about: `a number${unit ? ` in ${unit}` : ""}, from ${least} to ${most}`,
    };
  }
  if (/^-?[\d.]+[a-z]+$/i.test(text.trim())) return `A setting cannot have the unit in ${text.trim()}. Numbers can have px, em, %, ch, deg, s, ms or fr.`;
  return "Select a colour, a linear gradient or a number with a unit.";
}

const address = /^(https?:\/\/|mailto:|tel:)\S+$/i;

export function fromText(text: string): Inferred {
  if (address.test(text.trim())) return { type: "text", schema: { type: "string", format: "uri", maxLength: 2000, default: text.trim() }, glass: {}, about: "a link" };
  const colour = /^#/.test(text) ? asColour(text) : null;
  if (colour) return { type: "colour", schema: { type: "string", default: colour }, glass: {}, about: `a colour, ${colour}` };
  const long = text.length > 80;
  return { type: "text", schema: { type: "string", maxLength: Math.max(long ? 1000 : 200, text.length * 3), default: text }, glass: long ? { control: "lines" } : {}, about: long ? "text of several lines" : "text" };
}

export function fromScript(text: string): Inferred | string {
  if (text == "true" || text == "false") return { type: "switch", schema: { type: "boolean", default: text == "true" }, glass: {}, about: "a switch" };
  if (/^-?\d*\.?\d+$/.test(text)) return { type: "number", schema: { type: "number", default: Number(text) }, glass: {}, about: "a number" };
  const quoted = /^(["'])((?:[^\\]|\\.)*)\1$/.exec(text);
  if (quoted) {
    try {
      return fromText(JSON.parse(`"${quoted[2].replace(/\\'/g, "'").replace(/(^|[^\\])"/g, '$1\\"')}"`) as string);
    } catch {
      return "This text has an unreadable escape sequence. Write the character itself.";
    }
  }
  return "Select a number, text in quotes, true or false.";
}
