// A board's own frame and that of its slab.
import type { Board, Point } from "../api/client";

/** out carries a point of the board's frame to the slab's. */
export function out(p: Board["placement"], q: Point): Point {
  const a = (p.angle * Math.PI) / 180;
  const y = p.flip ? -q.y : q.y;
  return { x: p.x + Math.cos(a) * q.x - Math.sin(a) * y, y: p.y + Math.sin(a) * q.x + Math.cos(a) * y };
}

/** turnedBy is an angle between −180 and 180 degrees. */
export const turnedBy = (angle: number, by: number): number => Number((((angle + by + 540) % 360) - 180).toFixed(2));

/** standing is where another board of the slab lies in the frame of this one. */
export function standing(board: Board, other: Board): Board["placement"] {
  const [p, q] = [board.placement, other.placement];
  const a = (-p.angle * Math.PI) / 180;
  const d = { x: q.x - p.x, y: q.y - p.y };
  const up = p.flip ? -1 : 1;
  const round = (v: number) => Math.round(v * 10) / 10;
  return {
    x: round(Math.cos(a) * d.x - Math.sin(a) * d.y),
    y: round(up * (Math.sin(a) * d.x + Math.cos(a) * d.y)),
    angle: up * (q.angle - p.angle),
    flip: q.flip !== p.flip,
  };
}
