import type { Setting } from "../api/types";

// Whether a setting has an effect with the values of others.
export function matters(setting: Setting, value: (key: string) => unknown): boolean {
  return Object.entries((setting.when ?? {}) as Record<string, unknown[]>).every(([key, any]) => {
    const current = value(key);
    return Array.isArray(current) ? current.some((v) => any.includes(v)) : any.includes(current);
  });
}
