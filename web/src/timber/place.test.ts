import { describe, expect, it } from "vitest";
import { dragged, handles, placed, placeOf, type Place, type Placed } from "./place";

const oval: Placed = { centre: { x: 100, y: 20 }, a: 9, b: 4, angle: 30 };
const crack: Placed = {
  centre: { x: 0, y: 0 },
  width: 3,
  line: [
    { x: 10, y: 0 },
    { x: 40, y: 12 },
    { x: 70, y: 0 },
  ],
};
const pocket: Placed = {
  centre: { x: 0, y: 0 },
  line: [
    { x: 100, y: 10 },
    { x: 160, y: 0 },
    { x: 140, y: 40 },
    { x: 110, y: 30 },
  ],
};

describe("a place", () => {
  it("is measured whole, not by halves", () => {
    expect(placeOf(oval, "oval")).toEqual({ x: 100, y: 20, length: 18, width: 8, angle: 30 });
    expect(placeOf(crack, "line")).toEqual({ x: 40, y: 0, length: 60, width: 3, angle: 0 });
    expect(placeOf(pocket, "area")).toEqual({ x: 130, y: 20, length: 60, width: 40, angle: 0 });
  });

  it("comes out as it is set, whatever the mark", () => {
    for (const [mark, drawn, angle] of [
      [oval, "oval", -15],
      [crack, "line", 80],
      [pocket, "area", 0],
    ] as const) {
      const want: Place = { x: 200, y: -12, length: 90, width: 25, angle };
      for (const [k, v] of Object.entries(want)) {
        const now = placeOf({ ...mark, ...placed(mark, drawn, { [k]: v }) }, drawn);
        expect(now[k as keyof Place], `${drawn} ${k}`).toBeCloseTo(v, 2);
        const was = placeOf(mark, drawn);
        for (const other of Object.keys(want) as (keyof Place)[])
          if (other !== k) expect(now[other], `${drawn}: ${k} moved ${other}`).toBeCloseTo(was[other], 2);
      }
    }
  });

  it("never shrinks to nothing", () => {
    expect(placeOf({ ...pocket, ...placed(pocket, "area", { length: 0 }) }, "area").length).toBeGreaterThan(0.4);
    expect(placeOf({ ...crack, ...placed(crack, "line", { length: 0 }) }, "line").length).toBeGreaterThan(0.4);
  });
});

describe("handles", () => {
  it("stand where the mark ends", () => {
    const [right, left, up] = handles({ ...oval, angle: 0 }, "oval");
    expect([right, left, up]).toEqual([
      { x: 109, y: 20 },
      { x: 91, y: 20 },
      { x: 100, y: 24 },
    ]);
    expect(handles(crack, "line")).toHaveLength(3);
    expect(handles(pocket, "area")).toHaveLength(4);
  });

  it("bring an end to where they are dragged", () => {
    for (const to of [
      { x: 120, y: 20 },
      { x: 100, y: 35 },
      { x: 88, y: 11 },
    ])
      for (const end of [0, 1]) {
        const ends = handles({ ...oval, ...dragged(oval, "oval", end, to) }, "oval").slice(0, 2);
        const near = Math.min(...ends.map((p) => Math.hypot(p.x - to.x, p.y - to.y)));
        expect(near).toBeLessThan(0.5);
      }
    expect(dragged({ ...oval, angle: 90 }, "oval", 2, { x: 93, y: 50 })).toEqual({ b: 7 });
    expect(dragged(pocket, "area", 1, { x: 171.2, y: -3 }).line![1]).toEqual({ x: 171, y: -3 });
  });
});
