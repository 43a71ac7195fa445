import { describe, expect, it } from "vitest";
import type { Payload } from "../api/types";
import { frameIn, hostOf, wallOf, words, zoneOf, type Conditions } from "./conditions";

const said = (c: Conditions) => words(c).map(([, w]) => w);

describe("conditions", () => {
  it("are said in words, the usual ones not at all", () => {
    expect(said({})).toEqual([]);
    expect(said({ page: "light" })).toEqual([]);
    expect(said({ width: 360, page: "bar", language: "ar", turned: true, content: "many", still: true, visitor: "returning" })).toEqual([
      "360 px wide",
      "Page with a top bar",
      "Arabic",
      "Right to left",
      "Many items",
      "Reduced motion",
      "Returning visitor",
    ]);
    expect(said({ moment: "2027-03-01T18:00[Europe/Berlin]" })).toEqual(["Mar 1, 2027, 6:00 PM, Europe/Berlin"]);
    expect(said({ moment: "2027-10-31T02:30:05+01:00[Europe/Berlin]", frozen: true })).toEqual(["Oct 31, 2027, 2:30 AM, Europe/Berlin, clock stopped"]);
    expect(said({ page: "of a later program" })).toEqual(["of a later program"]);
  });

  it("take a moment apart", () => {
    for (const [moment, wall, zone] of [
      ["2027-03-01T18:00[Europe/Berlin]", "2027-03-01T18:00", "Europe/Berlin"],
      ["2027-03-01T18:00:09[America/Argentina/Ushuaia]", "2027-03-01T18:00:09", "America/Argentina/Ushuaia"],
      ["2027-10-31T02:30+01:00[Europe/Berlin]", "2027-10-31T02:30", "Europe/Berlin"],
      ["2027-03-01T18:00Z[UTC]", "2027-03-01T18:00", "UTC"],
      ["", "", ""],
    ]) {
      expect([wallOf(moment), zoneOf(moment)]).toEqual([wall, zone]);
    }
  });

  it("are the frame's only where the frame makes them so", () => {
    const payload = { built: 1803891600000 } as Payload;
    expect(frameIn({}, payload)).toEqual({});
    expect(frameIn({ width: 360, language: "ar", content: "one", page: "dark" }, payload)).toEqual({});
    expect(frameIn({ moment: "2027-03-01T10:00[Europe/Berlin]", still: true, visitor: "new" }, payload)).toEqual({ at: 1803891600000, frozen: false, zone: "Europe/Berlin", still: true, visitor: "new" });
    expect(frameIn({ frozen: true }, payload)).toEqual({}); // without a moment the clock goes on
    expect(hostOf({}, false)).toEqual({ page: "light", copies: 1, long: false });
    expect(hostOf({ page: "bar" }, true)).toEqual({ page: "bar", copies: 1, long: true });
  });
});
