import { expect, it } from "vitest";
import { instant, odd } from "./clocks";

it("tells hours that a change of clocks skips or repeats", () => {
  for (const [local, zone, what] of [
    ["2027-03-28T02:30", "Europe/Berlin", { skipped: "03:30" }],
    ["2027-03-28T02:00", "Europe/Berlin", { skipped: "03:00" }],
    ["2027-03-28T01:59", "Europe/Berlin", undefined],
    ["2027-03-28T03:00", "Europe/Berlin", undefined],
    ["2027-10-31T02:00", "Europe/Berlin", { second: "+01:00" }],
    ["2027-10-31T02:59:59", "Europe/Berlin", { second: "+01:00" }],
    ["2027-10-31T03:00", "Europe/Berlin", undefined],
    ["2027-10-31T01:30", "Atlantic/Faroe", { second: "+00:00" }],
    ["2027-11-07T01:30", "America/St_Johns", { second: "-03:30" }],
    ["2027-04-04T01:45", "Australia/Lord_Howe", { second: "+10:30" }],
    ["2027-10-03T02:15", "Australia/Lord_Howe", { skipped: "02:45" }],
    ["2027-06-01T02:30", "UTC", undefined],
    ["2027-03-28T02:30", "Marrow/Kelp", undefined],
    ["", "UTC", undefined],
  ] as const) {
    expect(odd(local, zone), `${local} ${zone}`).toEqual(what);
  }
});

it("knows the instant of a moment", () => {
  for (const [moment, is] of [
    ["2027-07-01T18:00[Europe/Berlin]", "2027-07-01T16:00:00Z"],
    ["2027-03-28T02:30[Europe/Berlin]", "2027-03-28T01:30:00Z"], // skipped: half past three
    ["2027-10-31T02:30[Europe/Berlin]", "2027-10-31T00:30:00Z"], // twice: the first
    ["2027-10-31T02:30+01:00[Europe/Berlin]", "2027-10-31T01:30:00Z"],
    ["2027-10-31T23:30[Europe/Berlin]", "2027-10-31T22:30:00Z"],
    ["2027-11-07T01:30[America/St_Johns]", "2027-11-07T04:00:00Z"],
  ] as const) {
    expect(instant(moment), moment).toBe(Date.parse(is));
  }
  expect([instant("2027-07-01T18:00[Marrow/Kelp]"), instant("soon")]).toEqual([NaN, NaN]);
});
