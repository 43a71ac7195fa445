import type { Host } from "../frame/host";
import type { Payload } from "../types";

export type { Host };

// A place in the script that was sent: line and column, both from 1.
export type Spot = [line: number, column: number];

export interface Draw {
  draw: Payload;
  script: string; // body of the function that the loader calls, "" for none
  sheet: string; // the author's stylesheet, each rule with its marker
  rules: number; // the number of markers
  host: Host;
  chosen: number | null; // the present mark of what was selected before
}

export type Order =
  | Draw
  | { sheet: string; rules: number; only?: number; rule?: string; tops?: number } // the stylesheet alone; only one of the top-level rules, if no other has changed
  | { look: Payload["look"] }
  | { point: boolean } // whether a click selects a part
  | { show: number | null } // the element at the author's cursor
  | { choose: number } // selects the element, like a click on it
  | { beat: number };

// An element, from the selected one up to the widget's root.
export interface Step {
  mark: number | null; // index of the view's element
  name: string;
  rules: number[]; // markers of the rules that match it now
  pseudo: Record<string, number[]>; // of its pseudo-elements
  spots: Spot[]; // of the script that have used it
}

export interface Part {
  steps: Step[];
  properties: Record<string, string>; // computed, those that people look for
}

export interface Said {
  level: "log" | "info" | "warn" | "error" | "debug";
  text: string;
  stack: Spot[]; // innermost first
}

export type Answer =
  | { ready: true }
  | { drawn: true }
  | { painted: number } // milliseconds since the order arrived
  | { part: Part }
  | { over: { mark: number | null; name: string } | null }
  | { said: Said }
  | { key: string } // a key that the worktop handles
  | { beat: number };
