import { describe, expect, test } from "vitest";
import { inWords, merge, merge3, same } from "./merge";

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

describe("two changes of one document", () => {
  const base = {
    name: "a",
    design: { width: 100, length: 300 },
    list: [
      { id: "1", x: 1 },
      { id: "2", x: 2 },
    ],
  };

  test("what does not overlap is joined", () => {
    const mine = { ...base, design: { ...base.design, width: 120 } };
    const theirs = {
      ...base,
      name: "b",
      list: [
        { id: "1", x: 9 },
        { id: "2", x: 2 },
        { id: "3", x: 3 },
      ],
    };
    expect(merge3(base, mine, theirs, "mine")).toEqual({
      merged: { ...theirs, design: { width: 120, length: 300 } },
      both: [],
    });
  });

  test("what does is named, and goes to the winner; the rest is joined all the same", () => {
    const mine = { ...base, name: "mine", design: { width: 120, length: 300 } };
    const theirs = { ...base, name: "theirs", design: { width: 140, length: 310 } };
    const won = merge3(base, mine, theirs, "mine");
    expect(won.both).toEqual(["name", "design.width"]);
    expect(won.merged.design).toEqual({ width: 120, length: 310 });
    expect(merge3(base, mine, theirs, "theirs").merged).toEqual({ ...theirs });
  });

  test("what one takes out and the other has not touched is gone", () => {
    const mine = { ...base, list: [base.list[1]] };
    const theirs = { ...base, list: [base.list[0], { id: "2", x: 5 }] };
    expect(merge3(base, mine, theirs, "mine").merged.list).toEqual([{ id: "2", x: 5 }]);
  });

  test("what is left out is the same as undefined, in any order", () => {
    expect(same({ a: 1, b: undefined }, { a: 1 })).toBe(true);
    expect(same({ a: 1, b: [1, { c: 2 }] }, { b: [1, { c: 2 }], a: 1 })).toBe(true);
    expect(same([1], [1, 2])).toBe(false);
  });

  test("a place reads as words", () => expect(inWords("design.handle.neckLength")).toBe("design, handle, neck length"));
});
