import type { Fault, Setting } from "../../api/types";

// What every field gets: its setting, the value now, and where a change goes.
export interface FieldProps {
  setting: Setting;
  value: unknown;
  id: string;
  describedby: string;
  invalid: boolean;
  onchange: (value: unknown) => void;
  // For fields that hold others: where this one stands in the settings, "cards", and the
  // faults by where they stand, "cards/2/title".
  path: string;
  faults: Record<string, Fault>;
}

// The parts of a value that is an object, over what it has when nothing is set.
export function parts<T extends object>(value: unknown, otherwise: T): T {
  return { ...otherwise, ...((value as Partial<T> | null) ?? {}) };
}
