import type { Fault } from "./types";

// A refusal by the service, with what to do about it. status is 0 when nobody answered.
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

// What went wrong, and what to do about it, in one line.
export const told = (error: unknown) => (error instanceof Refused ? `${error.message} ${error.hint}` : String(error));
