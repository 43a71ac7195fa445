import type { Setting } from "../../api/types";

// What every field gets: its setting, the value now, and where a change goes.
export interface FieldProps {
  setting: Setting;
  value: unknown;
  id: string;
  describedby: string;
  invalid: boolean;
  onchange: (value: unknown) => void;
}
