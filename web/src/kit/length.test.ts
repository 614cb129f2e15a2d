import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { showFine, showLength, showMinutes, showTime, type Unit, midnights, showDay } from "./length";

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

test("the setting of a machine, as it is printed too", () => {
  expect(showFine(20.84, "mm")).toBe("20.8 mm");
  expect(showFine(20.8, "in")).toBe('0.819"');
});

test("minutes as a maker says them", () => {
  expect([3.34, 45, 90, 720, 4320].map(showMinutes)).toEqual(["3.3 min", "45 min", "1 h 30 min", "12 h", "3 days"]);
});

test("a day has its year, wherever one is", () => {
  expect(showDay("2031-06-20")).toBe("20 Jun 2031");
});

test("moments stand in the workshop's zone", () => {
  expect(showTime("2031-06-21T10:00:00Z", "Europe/Vienna")).toContain("12:00");
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
