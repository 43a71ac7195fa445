// Whether two values are the same as JSON, where the order of an object's members says nothing.
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (!(a instanceof Object && b instanceof Object) || Array.isArray(a) != Array.isArray(b)) return false;
  const [of, other] = [a as Record<string, unknown>, b as Record<string, unknown>];
  return [...Object.keys(of), ...Object.keys(other)].every((key) => same(of[key], other[key]));
}
