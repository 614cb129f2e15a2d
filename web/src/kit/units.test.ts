import { readFileSync } from "node:fs";
import { describe, expect, test } from "vitest";
import { scaleOf, showText, showValue, type System } from "./units";

const cases = JSON.parse(readFileSync("../craft/measure/testdata/values.json", "utf8")) as {
  value: number;
  of: string;
  system: System;
  text: string;
}[];

describe("values", () => {
  test.each(cases)("$value $of is $text", ({ value, of, system, text }) => {
    expect(showValue(value, of, system)).toBe(text);
  });
  test.each([
    [1250, "cents", "12.50"],
    [1, "d", "1 day"],
    [95, "min", "1 h 35 min"],
    [2, "pieces", "2 pieces"],
    [12.5, "°", "12.5°"],
  ] as const)("%d %s is %s", (value, of, text) => {
    expect(showValue(value, of, { units: "mm" })).toBe(text);
  });
});

test("what is entered in ounces or °F is kept in grams and °C", () => {
  for (const [of, metric, shown] of [
    ["°C", 18, 64.4],
    ["g", 28.349523125, 1],
    ["kg/m³", 690, 43.0753],
  ] as const) {
    const scale = scaleOf(of, { units: "in" });
    expect(scale.shown(metric)).toBeCloseTo(shown, 4);
    expect(scale.metric(scale.shown(metric))).toBeCloseTo(metric, 9);
    expect(scaleOf(of, { units: "mm" })).toMatchObject({ name: of });
    expect(scaleOf(of, { units: "in", mass: "g", warmth: "°C" }).name).toBe(of);
  }
  expect(scaleOf("%", { units: "in" }).name).toBe("%");
});

test("values in a text follow the system", () => {
  expect(showText("a slot of {28} × {85.5}, {}", { units: "mm" })).toBe("a slot of 28 mm × 85.5 mm, {}");
  expect(showText("under {25.4}, {20 g}, {25 bit}", { units: "in" })).toBe('under 1", 0.71 oz, 25 mm');
});
