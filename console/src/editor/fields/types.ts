import type { Fault, Setting } from "../../api/types";

// The props of every field: its setting, the present value, and the handler of changes.
export interface FieldProps {
  setting: Setting;
  value: unknown;
  id: string;
  describedby: string;
  invalid: boolean;
  onchange: (value: unknown) => void;
  // For fields that contain others: the path of this one, "cards", and faults by their paths,
  // "cards/2/title".
  path: string;
  faults: Record<string, Fault>;
}

// The parts of a value that is an object, on top of its default.
export function parts<T extends object>(value: unknown, otherwise: T): T {
  return { ...otherwise, ...((value as Partial<T> | null) ?? {}) };
}

// Search words by language.
export type Words = Record<"en" | "de" | "pl" | "ar", string>;
