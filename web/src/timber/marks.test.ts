import { describe, expect, it } from "vitest";
import type { Mark, Slab } from "../api/client";
import { clip, moved, newFeature, newFlaw } from "./marks";

const a = { x: 100.2, y: 20.1 };

const crack: Mark = { kind: "crack", name: "Crack", drawn: "line", least: 40, start: { depth: 10, width: 3 } };
const bark: Mark = { kind: "bark", name: "Bark", drawn: "area", share: 0.6, least: 4, start: { depth: 10 } };
const hole: Mark = {
  kind: "hole",
  name: "Hole",
  drawn: "oval",
  share: 0.5,
  least: 2,
  most: 30,
  start: { through: true },
};

describe("newFlaw", () => {
  it("begins with what its kind begins with", () => {
    expect(newFlaw(crack, a, a, true)).toMatchObject({
      kind: "crack",
      under: true,
      depth: 10,
      width: 3,
      through: false,
    });
    expect(newFlaw(hole, a, a, false)).toMatchObject({ kind: "hole", under: false, through: true, a: 2, b: 1 });
  });
  it("gives each an id of its own", () => {
    const ids = Array.from({ length: 50 }, () => newFlaw(hole, a, a, false).id);
    expect(new Set(ids).size).toBe(50);
  });
  it("draws a line where the drag went, and one to see where there was none", () => {
    expect(newFlaw(crack, a, { x: 150, y: 25 }, false).line).toEqual([
      { x: 100, y: 20 },
      { x: 150, y: 25 },
    ]);
    expect(newFlaw(crack, a, a, false).line![1].x).toBe(140);
  });
  it("draws an area round the drag, and an oval as far as it may reach", () => {
    const xs = newFlaw(bark, a, { x: 120, y: 20 }, false).line!.map((p) => p.x);
    expect([Math.min(...xs), Math.max(...xs)]).toEqual([100, 120]);
    expect(newFlaw(hole, a, { x: 110, y: 28 }, false)).toMatchObject({ a: 5, b: 4, centre: { x: 105, y: 24 } });
    expect(newFlaw(hole, a, { x: 400, y: 20 }, false)).toMatchObject({ a: 30, b: 15, centre: { x: 250, y: 20 } });
    expect(newFlaw(hole, a, { x: 100, y: 30 }, false)).toMatchObject({ a: 10, b: 5, centre: { x: 100, y: 25 } });
  });
});

describe("newFeature", () => {
  it("is drawn as its kind is", () => {
    expect(newFeature({ ...hole, kind: "burr", start: {} }, a, { x: 120, y: 20 }, false)).toMatchObject({
      kind: "burr",
      a: 10,
    });
    expect(newFeature({ ...crack, kind: "streak" }, a, { x: 160, y: 20 }, false).line).toHaveLength(2);
  });
});

describe("moved", () => {
  it("carries line and centre together", () => {
    const f = newFlaw(crack, a, { x: 150, y: 25 }, false);
    const g = moved(f, 10, -5);
    expect(g.line![0]).toEqual({ x: f.line![0].x + 10, y: f.line![0].y - 5 });
    expect(g.centre).toEqual({ x: f.centre.x + 10, y: f.centre.y - 5 });
    expect(f.line![0].x).toBe(100); // what was stays
  });
});

describe("clip", () => {
  it("keeps what was marked on a piece that has become shorter", () => {
    const long = {
      show: [] as Slab["show"],
      readings: [{ x: 400, y: 0, thickness: 30 }],
      length: 800,
      flaws: [newFlaw(hole, { x: 700, y: 0 }, { x: 705, y: 0 }, false)],
    } as Slab;
    const short = clip(
      {
        ...long,
        under: [
          { x: 0, left: 80, right: -80 },
          { x: 800, left: 90, right: -90 },
        ],
      },
      500,
    );
    expect(short.flaws![0].centre.x).toBe(500);
    expect(short.readings![0].x).toBe(400);
    expect(short.under).toEqual([{ x: 0, left: 80, right: -80 }]);
    expect(clip({ ...long, under: [{ x: 700, left: 80, right: -80 }] }, 500).under).toEqual([
      { x: 0, left: 80, right: -80 },
    ]);
  });
});
