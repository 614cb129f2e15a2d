// Where a mark lies, as a maker measures it: its middle, its length along it and
// its width across. An oval and a line may be turned; an area lies along the piece.
import type { Mark, Point } from "../api/client";

/** Placed is what flaws and features have in common. */
export interface Placed {
  centre: Point;
  line?: Point[];
  a?: number;
  b?: number;
  angle?: number;
  width?: number;
}

/** Place is measured in mm, and degrees anticlockwise from the length of the piece. */
export interface Place {
  x: number;
  y: number;
  length: number;
  width: number;
  angle: number;
}

type Drawn = Mark["drawn"];

const least = 0.5; // mm: smaller is not drawn by hand
const exact = (v: number) => Math.round(v * 1e6) / 1e6 + 0; // a length is typed digit by digit, and grows from 1 mm
const degrees = (p: Point) => (Math.atan2(p.y, p.x) * 180) / Math.PI;
const between = (p: Point, q: Point): Point => ({ x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 });
const from = (p: Point, q: Point): Point => ({ x: p.x - q.x, y: p.y - q.y });

/** upright brings an angle of a line that has no direction to more than −90 and up to 90. */
const upright = (angle: number) => exact(angle - 180 * Math.ceil((angle - 90) / 180));

function boxOf(line: Point[]) {
  const xs = line.map((p) => p.x);
  const ys = line.map((p) => p.y);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return { middle: between({ x: x0, y: y0 }, { x: x1, y: y1 }), length: x1 - x0, width: y1 - y0 };
}

/** placeOf measures a mark. */
export function placeOf(m: Placed, drawn: Drawn): Place {
  const line = m.line ?? [];
  if (drawn === "line" && line.length > 1) {
    const [first, last] = [line[0], line[line.length - 1]];
    const chord = from(last, first);
    const length = Math.hypot(chord.x, chord.y);
    return { ...between(first, last), length, width: m.width ?? 0, angle: upright(degrees(chord)) };
  }
  if (drawn === "area" && line.length > 2) {
    const { middle, length, width } = boxOf(line);
    return { ...middle, length, width, angle: 0 };
  }
  return { ...m.centre, length: 2 * (m.a ?? 0), width: 2 * (m.b ?? 0), angle: m.angle ?? 0 };
}

/** placed is what of a mark changes when it is measured otherwise. */
export function placed(m: Placed, drawn: Drawn, change: Partial<Place>): Partial<Placed> {
  const was = placeOf(m, drawn);
  const now = { ...was, ...change };
  const line = m.line ?? [];
  if (drawn === "line" && line.length > 1) {
    const turn = ((now.angle - was.angle) * Math.PI) / 180;
    const by = was.length > 0 ? Math.max(least, now.length) / was.length : 1;
    const [cos, sin] = [Math.cos(turn) * by, Math.sin(turn) * by];
    const at = (p: Point): Point => {
      const d = from(p, was);
      return { x: exact(now.x + d.x * cos - d.y * sin), y: exact(now.y + d.x * sin + d.y * cos) };
    };
    return { line: line.map(at), ...("width" in change ? { width: now.width } : {}) };
  }
  if (drawn === "area" && line.length > 2) {
    const along = was.length > 0 ? Math.max(least, now.length) / was.length : 1;
    const across = was.width > 0 ? Math.max(least, now.width) / was.width : 1;
    return {
      line: line.map((p) => ({
        x: exact(now.x + (p.x - was.x) * along),
        y: exact(now.y + (p.y - was.y) * across),
      })),
    };
  }
  return { centre: { x: now.x, y: now.y }, a: now.length / 2, b: now.width / 2, angle: now.angle };
}

/** handles are the points by which a mark is drawn larger, smaller or otherwise. */
export function handles(m: Placed, drawn: Drawn): Point[] {
  if (drawn !== "oval") return m.line ?? [];
  const turned = ((m.angle ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turned), Math.sin(turned)];
  const [a, b] = [m.a ?? 0, m.b ?? 0];
  return [
    [a * cos, a * sin],
    [-a * cos, -a * sin],
    [-b * sin, b * cos],
    [b * sin, -b * cos],
  ].map(([x, y]) => ({ x: m.centre.x + x, y: m.centre.y + y }));
}

/** dragged is what of a mark changes when one of its handles is brought to a point. */
export function dragged(m: Placed, drawn: Drawn, handle: number, to: Point): Partial<Placed> {
  const half = (v: number) => Math.round(v * 2) / 2;
  if (drawn !== "oval")
    return { line: (m.line ?? []).map((p, i) => (i === handle ? { x: half(to.x), y: half(to.y) } : p)) };
  const d = from(to, m.centre);
  if (handle < 2) return { a: Math.max(least, half(Math.hypot(d.x, d.y))), angle: Math.round(upright(degrees(d))) };
  const turned = ((m.angle ?? 0) * Math.PI) / 180;
  return { b: Math.max(least, half(Math.abs(d.y * Math.cos(turned) - d.x * Math.sin(turned)))) };
}
