import { expect, test } from "vitest";
import { yearDay } from "./days";

test.each([
  ["21.6.", "06-21"],
  ["1. 12.", "12-01"],
  ["6/21", "06-21"],
  ["29.2.", "02-29"],
  ["soon", "soon"],
  ["21.6", "21.6"],
])("%s is %s", (typed, day) => expect(yearDay.read(typed)).toBe(day));

test("a day is shown as it is read", () => {
  expect(yearDay.show("06-21")).toBe("21.6.");
  expect(yearDay.read(yearDay.show("12-01"))).toBe("12-01");
  expect(yearDay.show("soon")).toBe("soon");
});
