import { expect, test } from "vitest";
import type { Design } from "../../api/client";
import { gripsOf, outward, setHandle } from "./grips";

const design: Design = {
  shape: "rectangle",
  length: 400,
  width: 240,
  thickness: 20,
  corner: 20,
  neck: 60,
  neckLength: 120,
  shoulder: 25,
  keepLeft: false,
  keepRight: false,
  handle: { kind: "hole", diameter: 30, length: 90, setback: 45, offset: 6 },
  edge: { kind: "none", size: 0 },
};
const box = [-200, -120, 200, 120];

test.each(["rectangle", "oval", "circle", "square", "paddle", "teardrop", "blade", "heart", "half moon", "plank", "free"] as const)("a grip of a %s put where it stands changes nothing", (shape) => {
  const d: Design = {
    ...design,
    shape,
    angle: 20,
    more: [{ ...design.handle, far: true, offset: -20 }],
    recesses: [
      { kind: "well", x: -40, y: 10, length: 90, width: 60, depth: 6 },
      { kind: "ring", x: 60, y: 0, length: 50, depth: 3, radius: 4 },
      { kind: "groove", x: 0, y: 0, depth: 4, radius: 5, inset: 12 },
    ],
    nodes: [
      { x: -200, y: -120 },
      { x: 200, y: -100, run: "arc", rise: 30 },
      { x: 180, y: 120, run: "batten", rise: -12.5 },
    ],
    asCut: [
      { x: -190, y: -110 },
      { x: 190, y: -110 },
      { x: 0, y: 110 },
    ],
  };
  for (const part of ["outline", "handles", "recesses", "cut"]) {
    for (const g of gripsOf(d, part, box)) expect({ ...d, ...g.drag(d, g.at) }, `${part} ${g.id}`).toEqual(d);
  }
});

test("a grip sets its own dimension", () => {
  const grip = (id: string) => gripsOf({ ...design, shape: "paddle" }, "outline", box).find((g) => g.id === id)!;
  expect(grip("length").drag(design, { x: -210, y: 3 })).toEqual({ length: 420 });
  expect(grip("neck").drag(design, { x: 150, y: 33.2 })).toEqual({ neck: 66.5 });
  expect(grip("neckLength").drag(design, { x: 70, y: 0 })).toEqual({ neckLength: 130 });
});

test("a handle near the centre line snaps to it", () => {
  const [g] = gripsOf(design, "handles", box);
  expect(g.drag(design, { x: 150, y: 1.2 })).toEqual({ handle: { ...design.handle, setback: 50, offset: 0 } });
  expect(setHandle({ ...design, more: [design.handle] }, 1, { offset: 9 })).toEqual({ more: [{ ...design.handle, offset: 9 }] });
});

test("outward points away from the inside, whichever way the nodes run", () => {
  const square = [
    { x: 0, y: 0 },
    { x: 10, y: 0 },
    { x: 10, y: 10 },
    { x: 0, y: 10 },
  ];
  expect(outward(square, 0).n.y).toBeLessThan(0);
  expect(outward([...square].reverse(), 2).n.y).toBeLessThan(0);
});
