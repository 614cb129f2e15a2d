// How a board stands on the screen: its frame, mm with y to the left seen from
// the handle end, against pixels with y down.
import type { Point } from "../../api/client";

export interface View {
  toScreen: (p: Point) => Point;
  toBoard: (p: Point) => Point;
  /** Transform of what is drawn in mm. */
  frame: string;
  /** 1 where y grows down the screen, as seen from below; else -1. */
  up: number;
}

const margin = 44; // px, for the dimensions

/** viewOf fits a box of the board, min x, min y, max x, max y, into a drawing. */
export function viewOf(box: readonly number[], size: { width: number; height: number }, flipped: boolean): View {
  const [x0, y0, x1, y1] = box;
  const wide = (size.width - 2 * margin) / Math.max(20, x1 - x0);
  const high = (size.height - 2 * margin) / Math.max(20, y1 - y0);
  const scale = Math.max(0.05, Math.min(wide, high));
  const middle = { x: (x0 + x1) / 2, y: (y0 + y1) / 2 };
  const up = flipped ? 1 : -1;
  const toScreen = (p: Point): Point => ({
    x: size.width / 2 + (p.x - middle.x) * scale,
    y: size.height / 2 + up * (p.y - middle.y) * scale,
  });
  const toBoard = (p: Point): Point => ({
    x: middle.x + (p.x - size.width / 2) / scale,
    y: middle.y + (up * (p.y - size.height / 2)) / scale,
  });
  const o = toScreen({ x: 0, y: 0 });
  return { toScreen, toBoard, up, frame: `translate(${o.x} ${o.y}) scale(${scale} ${up * scale})` };
}
