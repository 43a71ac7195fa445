import type { Setting } from "../api/types";

// Whether a setting has an effect with the values of others.
export function matters(setting: Setting, value: (key: string) => unknown): boolean {
  return Object.entries((setting.when ?? {}) as Record<string, unknown[]>).every(([key, any]) => {
    const now = value(key);
    return Array.isArray(now) ? now.some((v) => any.includes(v)) : any.includes(now);
  });
}
