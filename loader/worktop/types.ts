import type { Host } from "../frame/host";
import type { Payload } from "../types";

export type { Host };

// A place in the script that was sent: line and column, both from 1.
export type Spot = [line: number, column: number];

export interface Draw {
  draw: Payload;
  script: string; // body of the function that the loader takes, "" for none
  sheet: string; // the author's stylesheet, each rule with its marker
  rules: number; // how many markers there are
  host: Host;
  chosen: number | null; // the mark that what was chosen before has now
}

export type Order =
  | Draw
  | { sheet: string; rules: number; only?: number; rule?: string; tops?: number } // the style alone; only one rule of so many, where that is all
  | { look: Payload["look"] }
  | { point: boolean } // whether pointing chooses
  | { show: number | null } // the element whose source the author is in
  | { choose: number } // the same, as if it had been pointed at
  | { beat: number };

// One element from the one that was pointed at up to the widget's root.
export interface Step {
  mark: number | null; // index of the view's element
  name: string;
  rules: number[]; // markers of the rules that hit it now
  pseudo: Record<string, number[]>; // of its pseudo-elements
  spots: Spot[]; // of the script that have touched it
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
  | { painted: number } // milliseconds since the order came
  | { part: Part }
  | { over: { mark: number | null; name: string } | null }
  | { said: Said }
  | { key: string } // a key that the worktop has a use for
  | { beat: number };
