import { afterEach, describe, expect, it } from "vitest";
import { aside, setClock } from "../../../loader/frame/clock";

const Real = Date;
const RealFormat = Intl.DateTimeFormat;
const at = (iso: string, frozen = true, zone = "") => setClock(Real.parse(iso), frozen, zone);
const parts = (d: Date) => [d.getFullYear(), d.getMonth() + 1, d.getDate(), d.getDay(), d.getHours(), d.getMinutes(), d.getSeconds(), d.getMilliseconds()];

describe("a preview's clock", () => {
  afterEach(() => setClock(undefined, false, ""));

  it("stands at a moment, or runs on from it, until it is put back", () => {
    at("2027-03-01T09:00:00Z");
    expect(Date.now()).toBe(Real.parse("2027-03-01T09:00:00Z"));
    expect(new Date().getTime()).toBe(Date.now());
    aside(-10_000);
    expect(new Date().toISOString()).toBe("2027-03-01T08:59:50.000Z");
    at("2027-03-01T09:00:00Z", false);
    const began = Date.now();
    expect(began - Real.parse("2027-03-01T09:00:00Z")).toBeLessThan(1000);
    const until = performance.now() + 5;
    while (performance.now() < until);
    expect(Date.now()).toBeGreaterThan(began);
    setClock(undefined, false, "");
    expect(Date).toBe(Real);
    expect(Intl.DateTimeFormat).toBe(RealFormat);
  });

  it("shows what clocks in the zone show, on both sides of a change of clocks", () => {
    at("2027-03-28T00:59:59.250Z", true, "Europe/Berlin");
    expect(parts(new Date())).toEqual([2027, 3, 28, 0, 1, 59, 59, 250]);
    expect(new Date().getTimezoneOffset()).toBe(-60);
    at("2027-03-28T01:00:00Z", true, "Europe/Berlin");
    expect(parts(new Date())).toEqual([2027, 3, 28, 0, 3, 0, 0, 0]);
    expect(new Date().getTimezoneOffset()).toBe(-120);
    at("2026-12-31T23:30:00Z", true, "Pacific/Auckland");
    expect(parts(new Date())).toEqual([2027, 1, 1, 5, 12, 30, 0, 0]);
    at("2027-01-01T02:15:00Z", true, "America/St_Johns"); // half an hour beside the hour
    expect(parts(new Date())).toEqual([2026, 12, 31, 4, 22, 45, 0, 0]);
    expect(new Date().getTimezoneOffset()).toBe(210);
    // Before 1970 milliseconds are counted the other way.
    expect(new Date(-1).getMilliseconds()).toBe(999);
  });

  it("reads a page's wall-clock time in the zone", () => {
    at("2027-03-01T09:00:00Z", true, "Europe/Berlin");
    const of = (...list: number[]) => new Date(...(list as [number, number])).toISOString();
    expect(of(2027, 2, 1)).toBe("2027-02-28T23:00:00.000Z");
    expect(of(2027, 6, 1, 12, 30)).toBe("2027-07-01T10:30:00.000Z");
    expect(of(2027, 2, 28, 3, 0)).toBe("2027-03-28T01:00:00.000Z");
    expect(new Date("2027-03-01T12:00:00Z").toISOString()).toBe("2027-03-01T12:00:00.000Z"); // an instant is an instant
    expect(new Date(0).getTime()).toBe(0);
    expect(isNaN(new Date(NaN).getHours())).toBe(true);
    expect(new Date() instanceof Date).toBe(true);
  });

  it("writes moments in the zone, unless another is asked for", () => {
    at("2027-03-01T23:30:00Z", true, "Asia/Tokyo");
    expect(new Intl.DateTimeFormat("en", { dateStyle: "short" }).format(Date.now())).toBe("3/2/27");
    expect(Intl.DateTimeFormat().resolvedOptions().timeZone).toBe("Asia/Tokyo");
    expect(new Intl.DateTimeFormat("en", { timeZone: "UTC", dateStyle: "short" }).format(Date.now())).toBe("3/1/27");
    expect(new Date().toLocaleDateString("en")).toBe("3/2/2027");
    expect(new Date().toLocaleTimeString("en", { timeZone: "UTC", timeStyle: "short" })).toMatch(/^11:30\sPM$/);
    expect(Intl.DateTimeFormat.supportedLocalesOf(["en"])).toEqual(["en"]);
  });
});
