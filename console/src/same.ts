// Whether two values are equal as JSON, whatever the order of members.
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (!(a instanceof Object && b instanceof Object) || Array.isArray(a) != Array.isArray(b)) return false;
  const [of, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  return [...Object.keys(of), ...Object.keys(other)].every((key) => same(of[key], other[key]));
}
