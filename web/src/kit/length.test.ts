import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { showLength, showMinutes, showText, showTime, showValue, type Unit, midnights } from "./length";

const cases = JSON.parse(readFileSync("../craft/measure/testdata/format.json", "utf8")) as {
  mm: number;
  unit: Unit;
  text: string;
}[];

describe("lengths", () => {
  test.each(cases)("$mm in $unit is $text", ({ mm, unit, text }) => {
    expect(showLength(mm, unit)).toBe(text);
  });
});

describe("values", () => {
  test.each([
    [25.4, "mm", "in", '1"'],
    [1.665, "MPa", "mm", "1.67 MPa"],
    [0.00353, "", "mm", "0.00353"],
    [1250, "cents", "mm", "12.50"],
    [1, "d", "mm", "1 day"],
    [95, "min", "mm", "1 h 35 min"],
  ] as const)("%d %s", (value, of, unit, text) => {
    expect(showValue(value, of, unit)).toBe(text);
  });
});

test("minutes as a maker says them", () => {
  expect([3.34, 45, 90, 720, 4320].map(showMinutes)).toEqual(["3.3 min", "45 min", "1 h 30 min", "12 h", "3 days"]);
});

test("moments stand in the workshop's zone", () => {
  expect(showTime("2031-06-21T10:00:00Z", "Europe/Vienna")).toContain("12:00");
});

test("lengths in a text follow the unit", () => {
  expect(showText("a slot of {28} × {85.5}, {}", "mm")).toBe("a slot of 28 mm × 85.5 mm, {}");
  expect(showText("under {25.4}", "in")).toBe('under 1"');
});

test("days begin at midnight of the zone, whatever its clocks do", () => {
  const of = (zone: string, from: string, to: string) =>
    midnights(Date.parse(from), Date.parse(to), zone).map((t) => new Date(t).toISOString());
  expect(of("Europe/Vienna", "2031-03-28T12:00:00Z", "2031-03-31T23:00:00Z")).toEqual([
    "2031-03-28T23:00:00.000Z",
    "2031-03-29T23:00:00.000Z", // the clocks go forward on the 30th
    "2031-03-30T22:00:00.000Z",
    "2031-03-31T22:00:00.000Z",
  ]);
  expect(of("America/New_York", "2031-04-22T00:00:00Z", "2031-04-23T05:00:00Z")).toEqual([
    "2031-04-22T04:00:00.000Z",
    "2031-04-23T04:00:00.000Z",
  ]);
  expect(of("Asia/Kathmandu", "2031-04-22T00:00:00Z", "2031-04-23T00:00:00Z")).toEqual(["2031-04-22T18:15:00.000Z"]);
});
