import type { Payload } from "../types";
import type { Host } from "./host";

export type { Host };

// The conditions of a preview that its frame simulates.
export interface In {
  at?: number; // milliseconds since 1970; undefined for the computer's own time
  frozen?: boolean; // the clock is stopped
  zone?: string; // the visitor's, an IANA name
  still?: boolean; // the visitor prefers reduced motion
  facts?: Record<string, string>; // what the page states, by name
  visitor?: "new" | "returning"; // undefined shows everything opened
}

export interface Draw {
  draw: Payload & { module?: string };
  host: Host;
  in: In;
  again?: boolean; // from the start, as for a visitor who has just arrived
}

export type Order =
  | Draw
  | { look: Payload["look"] }
  | { point: boolean } // whether a click selects a part
  | { show: Show | null } // outlines what these made
  | { beat: number };

// The parts that settings made: by marks of the view's parts, and by names of the look. item limits
// it to one item of a list, by its index and the number of items.
export interface Show {
  marks: number[];
  names: string[];
  item?: { nth: number; of: number };
}

// An element, from the selected one up to the widget's root.
export interface Made {
  mark: number | null; // of the part of the view that wrote it
  nth: number; // its index among elements with the same mark
  of: number; // the number of such elements
  names: string[]; // custom properties and attributes that style it
}

export type Answer =
  | { ready: true }
  | { drawn: true; height: number; above: number }
  | { height: number; above: number }
  | { over: Made[] | null }
  | { chosen: Made[] }
  | { key: string }
  | { beat: number }
  | { error: string };
