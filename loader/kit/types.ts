// The kit is the code in a pocket's script besides the loader and the widget's own module: only
// what this widget uses. Each part adds members to the argument of the mount function.
import type { Memory } from "../types";

export interface Pocket {
  root: HTMLElement;
  settings: Record<string, unknown>;
  language: string;
  signal: AbortSignal;
  memory: Memory;
  hide(hidden: boolean): void;
  [more: string]: unknown;
}

// The service's data for the kit about a release, and about the pocket if there is one.
export interface Table {
  key?: string;
  items?: string; // the setting with the items
  facts?: Record<string, "text" | "switch">;
  overrides?: Override[];
  asked?: string[]; // sorted names of settings whose overrides the service renders
  from?: string; // the service's address, if there are any
  here?: { only?: string[]; not?: string[] }; // addresses where it shows, or does not
  sites?: string[]; // the only sites where it shows
  local?: boolean; // and on a developer's own machine
  fonts?: { family: string; address: string }[];
  ago?: Record<string, Relative>; // by language
}

// The texts of relative times; see internal/message/relative.go.
export interface Relative {
  now: string;
  yesterday: string;
  minute: string[];
  hour: string[];
  day: string[];
  form: string; // the index of the text for 1, 2, … 59
}

// A setting that a mount point can override.
export interface Override {
  key: string;
  name: string; // as in data-set-NAME and --NAME
  type: string;
  as?: "property" | "attribute";
  unit?: string;
  least?: number;
  most?: number; // of a number or length; for a text, in characters
  step?: number;
  of?: string[]; // values, or units of a length
  names?: Record<string, string>; // the CSS for a value
  inherit?: string;
  mount?: boolean; // the module uses it
}

export const hostOf = (pocket: Pocket) => (pocket.root.getRootNode() as ShadowRoot).host as HTMLElement;

// The element of the page with the attributes.
export const pointOf = (pocket: Pocket) => hostOf(pocket).closest<HTMLElement>("[data-glass-pocket]") || hostOf(pocket);
