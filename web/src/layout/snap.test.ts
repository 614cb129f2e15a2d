import { expect, test } from "vitest";
import { across, snap, square, type SnapGround } from "./snap";

const box = (l: number, w: number) => [
  { x: -l / 2, y: -w / 2 },
  { x: l / 2, y: -w / 2 },
  { x: l / 2, y: w / 2 },
  { x: -l / 2, y: w / 2 },
];
const wood = [
  { x: 0, y: -100 },
  { x: 900, y: -100 },
  { x: 900, y: 100 },
  { x: 0, y: 120 },
];
const ground: SnapGround = { wood, from: 3, to: 897, others: [] };
const at = (x: number, y: number, angle = 0) => ({ x, y, angle, flip: false });

test("ends, edges and the chalk line are felt within reach", () => {
  expect(snap(at(105, 2), box(200, 100), ground, 4)).toEqual({
    placement: at(103, 0),
    felt: "the squared butt end, the chalk line",
  });
  expect(snap(at(450, -47), box(200, 100), ground, 4).placement.y).toEqual(-50);
  expect(snap(at(450, -30), box(200, 100), ground, 4).felt).toEqual("");
  expect(snap(at(799, 40), box(200, 100), ground, 4).placement.x).toEqual(797);
});

test("a neighbour is felt at a saw's width, where they lie side by side", () => {
  const others = [
    {
      points: box(200, 100).map((p) => ({ x: p.x + 300, y: p.y + 30 })),
      placement: at(300, 30),
      twin: true,
      apart: 2.5,
    },
  ];
  expect(snap(at(505, 40), box(200, 100), { ...ground, others }, 4).placement.x).toEqual(502.5);
  expect(snap(at(505, -90), box(200, 100), { ...ground, others }, 4).placement.x).toEqual(505);
  const mirrored = snap(at(303, -28), box(200, 40), { ...ground, others }, 4);
  expect([mirrored.placement.x, mirrored.placement.y]).toEqual([300, -30]);
});

test("turning is felt along the grain and the live edge", () => {
  expect(square(at(450, 0, 1), wood, 1.5).placement.angle).toEqual(0);
  const slope = (Math.atan2(-20, 900) * 180) / Math.PI;
  expect(square(at(450, 60, slope - 1), wood, 1.2).placement.angle).toBeCloseTo(slope, 2);
  expect(square(at(450, 0, 30), wood, 1.5).felt).toEqual("");
  expect(across(wood, 2000)).toEqual(null);
});
