import type { Payload } from "../types";
import type { Host } from "./host";

export type { Host };

// What a pocket is seen in, as far as its frame makes it so.
export interface In {
  at?: number; // milliseconds since 1970; the computer's own time without it
  frozen?: boolean; // the clock stands still there
  zone?: string; // the visitor's, an IANA name
  still?: boolean; // the visitor asks for less motion
  facts?: Record<string, string>; // what the page states, by name
  visitor?: "new" | "returning"; // as they meet it; without it what waits to be opened is open
}

export interface Draw {
  draw: Payload & { module?: string };
  host: Host;
  in: In;
  again?: boolean; // from the beginning, as for somebody who has just come
}

export type Order =
  | Draw
  | { look: Payload["look"] }
  | { point: boolean } // whether pointing chooses
  | { show: Show | null } // outlines what these have made
  | { beat: number };

// What settings have made: by marks of the view's parts, by the names of a look; with item only
// the one of so many that belongs to an item of a list.
export interface Show {
  marks: number[];
  names: string[];
  item?: { nth: number; of: number };
}

// One element from the one that was pointed at up to the widget's root.
export interface Made {
  mark: number | null; // of the part of the view that wrote it
  nth: number; // which of those with the same mark it is, from 0
  of: number; // how many there are
  names: string[]; // custom properties and attributes that it is styled by
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
