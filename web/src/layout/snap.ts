// What a board is felt against while it is dragged over the slab.
import type { Board, Point } from "../api/client";
import { out } from "../boards/frame";

type Placement = Board["placement"];

/** SnapGround is what is felt, in the slab's frame: the wood's edges, its ends after squaring, the other boards. */
export interface SnapGround {
  wood: Point[];
  from: number;
  to: number;
  /** With what must lie between each and the board, mm. */
  others: { points: Point[]; placement: Placement; twin: boolean; apart: number }[];
}

export interface Snapped {
  placement: Placement;
  /** What was felt, in words; empty when nothing was. */
  felt: string;
}

interface Box {
  minX: number;
  maxX: number;
  minY: number;
  maxY: number;
}

export function boxOf(points: Point[]): Box {
  const box = { minX: Infinity, maxX: -Infinity, minY: Infinity, maxY: -Infinity };
  for (const p of points) {
    box.minX = Math.min(box.minX, p.x);
    box.maxX = Math.max(box.maxX, p.x);
    box.minY = Math.min(box.minY, p.y);
    box.maxY = Math.max(box.maxY, p.y);
  }
  return box;
}

/** across is where the wood's edges lie at x: its right and its left one. */
export function across(wood: Point[], x: number): [number, number] | null {
  const ys: number[] = [];
  wood.forEach((a, i) => {
    const b = wood[(i + 1) % wood.length];
    if (a.x <= x !== b.x <= x) ys.push(a.y + ((b.y - a.y) * (x - a.x)) / (b.x - a.x));
  });
  return ys.length < 2 ? null : [Math.min(...ys), Math.max(...ys)];
}

/** snap moves a place to what is felt within reach, along the slab and across it. */
export function snap(placement: Placement, outline: Point[], ground: SnapGround, reach: number): Snapped {
  const points = outline.map((p) => out(placement, p));
  const box = boxOf(points);
  const along: { by: number; felt: string }[] = [
    { by: ground.from - box.minX, felt: "the squared butt end" },
    { by: ground.to - box.maxX, felt: "the squared far end" },
  ];
  const over: { by: number; felt: string }[] = [{ by: -placement.y, felt: "the chalk line" }];
  for (const o of ground.others) {
    const b = boxOf(o.points);
    const beside = box.minY < b.maxY && b.minY < box.maxY;
    const behind = box.minX < b.maxX && b.minX < box.maxX;
    if (beside)
      along.push(
        { by: b.maxX + o.apart - box.minX, felt: "a saw's width behind its neighbour" },
        { by: b.minX - o.apart - box.maxX, felt: "a saw's width before its neighbour" },
      );
    if (behind)
      over.push(
        { by: b.maxY + o.apart - box.minY, felt: "a saw's width beside its neighbour" },
        { by: b.minY - o.apart - box.maxY, felt: "a saw's width beside its neighbour" },
      );
    if (o.twin) {
      along.push({ by: o.placement.x - placement.x, felt: "in line with its twin" });
      over.push({ by: -o.placement.y - placement.y, felt: "the mirror image of its twin" });
    }
  }
  let left = Infinity;
  let right = Infinity;
  for (const p of points) {
    const at = across(ground.wood, p.x);
    if (!at) continue;
    right = Math.min(right, p.y - at[0]);
    left = Math.min(left, at[1] - p.y);
  }
  if (Number.isFinite(left)) over.push({ by: left, felt: "the left edge" }, { by: -right, felt: "the right edge" });
  const nearest = (list: { by: number; felt: string }[]) =>
    list.filter((c) => Math.abs(c.by) <= reach).sort((a, b) => Math.abs(a.by) - Math.abs(b.by))[0];
  const x = nearest(along);
  const y = nearest(over);
  const round = (v: number) => Math.round(v * 100) / 100;
  return {
    placement: { ...placement, x: round(placement.x + (x?.by ?? 0)), y: round(placement.y + (y?.by ?? 0)) },
    felt: [x?.felt, y?.felt].filter(Boolean).join(", "),
  };
}

/** square is the angle of the nearer live edge beside a place, or of the grain, if it is within reach in degrees. */
export function square(placement: Placement, wood: Point[], reach: number): Snapped {
  const half = 60;
  const before = across(wood, placement.x - half);
  const after = across(wood, placement.x + half);
  const angles = [0, 90, 180, -90].map((by) => ({ by, felt: "the grain" }));
  if (before && after) {
    const here = across(wood, placement.x);
    const nearLeft = here !== null && here[1] - placement.y < placement.y - here[0];
    const side = nearLeft ? 1 : 0;
    const slope = (Math.atan2(after[side] - before[side], 2 * half) * 180) / Math.PI;
    angles.push(...[0, 90, 180, -90].map((by) => ({ by: slope + by, felt: "square to the live edge" })));
  }
  const off = (by: number) => Math.abs(((by - placement.angle + 540) % 360) - 180);
  const best = angles.filter((a) => off(a.by) <= reach).sort((a, b) => off(a.by) - off(b.by))[0];
  return best
    ? { placement: { ...placement, angle: Math.round(best.by * 100) / 100 }, felt: best.felt }
    : { placement, felt: "" };
}
