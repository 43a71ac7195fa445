import type { Fault } from "./types";

// An error response, with what to do about it. status is 0 if the service did not respond.
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    detail: string,
    readonly hint: string,
    readonly faults: Fault[] = [],
  ) {
    super(detail);
  }
}

// The problem and its remedy, on one line.
export const explain = (error: unknown) => (error instanceof Refused ? `${error.message} ${error.hint}` : String(error));
