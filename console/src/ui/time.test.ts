import { expect, test } from "vitest";
import { ago } from "./time";

const now = Date.parse("2027-03-01T12:00:00Z");

test.each([
  ["2027-03-01T11:59:30Z", "just now"],
  ["2027-03-01T12:05:00Z", "just now"], // a clock that is behind the service's
  ["2027-03-01T11:59:00Z", "1 minute ago"],
  ["2027-03-01T09:00:00Z", "3 hours ago"],
  ["2027-02-28T12:00:00Z", "yesterday"],
  ["2027-02-19T12:00:00Z", "10 days ago"],
])("%s is %s", (at, words) => expect(ago(at, now)).toBe(words));
