// The contrast ratio of a text's colour and its background (WCAG 2.2), from 1 to 21, computed as in
// the service. Translucent colours are blended with what is below them, at last with white.
type RGBA = [number, number, number, number];

function read(colour: string): RGBA | undefined {
  if (!/^#([\da-f]{6}|[\da-f]{8})$/i.test(colour)) return;
  const part = (i: number) => parseInt(colour.slice(1 + 2 * i, 3 + 2 * i), 16) / 255;
  return [part(0), part(1), part(2), colour.length > 7 ? part(3) : 1];
}

const over = (a: RGBA, b: RGBA): RGBA => [0, 1, 2].map((i) => a[i] * a[3] + b[i] * (1 - a[3])).concat(1) as RGBA;

function luminance([r, g, b]: RGBA) {
  const linear = (c: number) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4);
  return 0.2126 * linear(r) + 0.7152 * linear(g) + 0.0722 * linear(b);
}

// 0 if either is not a colour.
export function contrast(ink: string, on: string): number {
  const a = read(ink);
  const b = read(on);
  if (!a || !b) return 0;
  const ground = over(b, [1, 1, 1, 1]);
  const [x, y] = [luminance(over(a, ground)), luminance(ground)];
  return (Math.max(x, y) + 0.05) / (Math.min(x, y) + 0.05);
}
