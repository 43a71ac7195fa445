// The kit is what a pocket's script brings besides the loader and the widget's own module:
// only what this widget uses. Each part adds to what the mount function gets.
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

// What the service tells the kit of a release, and of the pocket where there is one.
export interface Table {
  key?: string;
  items?: string; // the setting that holds the items
  facts?: Record<string, "text" | "switch">;
  overrides?: Override[];
  asked?: string[]; // names of settings that the service gives other values, in order
  from?: string; // the service's address, when there are such
  here?: { only?: string[]; not?: string[] }; // addresses at which it shows, or does not
  sites?: string[]; // that it shows on, and nowhere else
  local?: boolean; // and on a developer's own machine
  fonts?: { family: string; address: string }[];
}

// One setting that a mount point may override.
export interface Override {
  key: string;
  name: string; // as in data-set-NAME and --NAME
  type: string;
  as?: "property" | "attribute";
  unit?: string;
  least?: number;
  most?: number; // of a number or length; characters of a text
  step?: number;
  of?: string[]; // values, or units of a length
  names?: Record<string, string>; // what stands in CSS for a value
  inherit?: string;
  mount?: boolean; // the module gets it
}

export const hostOf = (pocket: Pocket) => (pocket.root.getRootNode() as ShadowRoot).host as HTMLElement;

// The element of the page that bears the attributes.
export const pointOf = (pocket: Pocket) => hostOf(pocket).closest<HTMLElement>("[data-glass-pocket]") || hostOf(pocket);
