import { expect, test } from "vitest";
import { merge } from "./merge";

test.each([
  [{ a: "b" }, { a: "c" }, { a: "c" }],
  [{ a: "b" }, { b: "c" }, { a: "b", b: "c" }],
  [{ a: "b", b: "c" }, { a: null }, { b: "c" }],
  [{ a: ["b"] }, { a: "c" }, { a: "c" }],
  [{ a: { b: "c" } }, { a: { b: "d", c: null } }, { a: { b: "d" } }],
  [{ a: [{ b: "c" }] }, { a: [1] }, { a: [1] }],
  [{ a: "foo" }, ["c"], ["c"]],
])("%j with %j", (target, patch, want) => {
  const before = JSON.stringify(target);
  expect(merge<unknown>(target, patch)).toEqual(want);
  expect(JSON.stringify(target)).toBe(before);
});
