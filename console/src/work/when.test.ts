import { expect, test } from "vitest";
import { when } from "./when";

test("what a task is doing, in words", () => {
  const now = Date.parse("2027-03-01T09:00:00Z");
  const at = (state: string, due: string, endedAt?: string) => when({ state, due, endedAt }, now);
  expect(at("waiting", "2027-03-01T08:59:59Z")).toBe("Waiting for its turn");
  expect(at("waiting", "2027-03-01T09:00:01Z")).toBe("Waiting, in 1 second");
  expect(at("waiting", "2027-03-01T10:59:00Z")).toBe("Waiting, in 1 hour");
  expect(at("waiting", "2027-03-04T09:00:00Z")).toBe("Waiting, in 3 days");
  expect(at("running", "2027-03-01T08:00:00Z")).toBe("Running");
  expect(at("failed", "2027-03-01T08:00:00Z", "2027-03-01T08:58:00Z")).toBe("Failed 2 minutes ago");
  expect(at("cancelled", "2027-03-01T12:00:00Z", "2027-03-01T09:00:00Z")).toBe("Cancelled just now");
});
