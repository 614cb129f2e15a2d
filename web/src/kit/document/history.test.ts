import { expect, test } from "vitest";
import { begin, change, redo, settle, undo } from "./history";

test("undo and redo walk back and forth", () => {
  let h = change(change(begin(1), 2), 3);
  h = undo(h);
  expect(h.now).toBe(2);
  h = undo(undo(h));
  expect(h.now).toBe(1);
  h = redo(redo(redo(h)));
  expect(h.now).toBe(3);
  h = change(undo(h), 9);
  expect(redo(h).now).toBe(9);
});

test("one drag is one undo", () => {
  let h = begin(0);
  for (let i = 1; i <= 50; i++) h = change(h, i, "drag");
  expect(undo(h).now).toBe(0);
  h = change(settle(h), 60, "drag");
  expect(undo(h).now).toBe(50);
});

test("the past is bounded", () => {
  let h = begin(0);
  for (let i = 1; i <= 1000; i++) h = change(h, i);
  expect(h.past.length).toBeLessThanOrEqual(200);
});

test("what changes nothing is no undo of its own", () => {
  const h = change(begin(1), 2);
  expect(change(h, 2, "late")).toBe(h);
});
