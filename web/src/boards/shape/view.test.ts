import { expect, test } from "vitest";
import { viewOf } from "./view";

const box = [-200, -80, 210, 90];
const size = { width: 900, height: 500 };

test.each([false, true])("a place on the screen is read back on the board, flipped: %s", (flipped) => {
  const view = viewOf(box, size, flipped);
  const p = { x: 37, y: -52 };
  const back = view.toBoard(view.toScreen(p));
  expect(back.x).toBeCloseTo(p.x);
  expect(back.y).toBeCloseTo(p.y);
  for (const corner of [
    { x: -200, y: -80 },
    { x: 210, y: 90 },
  ]) {
    const q = view.toScreen(corner);
    expect(q.x > 40 && q.x < 860 && q.y > 40 && q.y < 460, JSON.stringify(q)).toBe(true);
  }
  expect(view.toScreen({ x: 0, y: 10 }).y < view.toScreen({ x: 0, y: 0 }).y).toBe(!flipped);
});
