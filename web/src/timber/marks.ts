// Flaws and features as they are made and moved.
import type { Feature, Flaw, Mark, Point, Slab } from "../api/client";

const round = (v: number) => Math.round(v * 2) / 2;

const pressed = 3; // mm: less is no drag

let serial = 0;
const newId = () => `${Date.now().toString(36)}-${(serial++).toString(36)}`;

/**
 * drawn is where a mark lies that is dragged from a to b: along it, or within the box
 * of which they are corners. Where the drag has no width, the mark has that of its kind.
 */
function drawn(m: Mark, a: Point, b: Point): { centre: Point; line?: Point[]; a?: number; b?: number } {
  const at = (x: number, y: number): Point => ({ x: round(x), y: round(y) });
  const [dx, dy] = [Math.abs(b.x - a.x), Math.abs(b.y - a.y)];
  if (m.drawn === "line") {
    const line = [at(a.x, a.y), Math.hypot(dx, dy) < pressed ? at(a.x + m.least, a.y) : at(b.x, b.y)];
    return { centre: at(a.x, a.y), line };
  }
  const share = m.share || 1;
  const sized = (v: number) => Math.min(m.most || Infinity, Math.max(m.least, v));
  const rx = sized(dx < pressed ? dy / 2 / share : dx / 2);
  const ry = dy < pressed ? rx * share : sized(dy / 2);
  const centre = at((a.x + b.x) / 2, (a.y + b.y) / 2);
  if (m.drawn === "oval") return { centre, a: round(rx), b: round(ry) };
  const corner = (_: unknown, i: number) =>
    at(centre.x + rx * Math.cos((i * Math.PI) / 5), centre.y + ry * Math.sin((i * Math.PI) / 5));
  return { centre, line: Array.from({ length: 10 }, corner) };
}

/** newFlaw is a flaw of a kind that is dragged from a to b. */
export function newFlaw(m: Mark, a: Point, b: Point, under: boolean): Flaw {
  const blank = { through: false, depth: 0, width: 0, slot: false, a: 0, b: 0, angle: 0, count: 0, diameter: 0 };
  return { ...blank, id: newId(), kind: m.kind as Flaw["kind"], under, ...drawn(m, a, b), ...m.start };
}

/** newFeature is a feature of a kind that is dragged from a to b. */
export function newFeature(m: Mark, a: Point, b: Point, under: boolean): Feature {
  return { id: newId(), kind: m.kind as Feature["kind"], under, ...drawn(m, a, b), ...m.start };
}

/** moved is a mark shifted, its line and its centre together. */
export function moved<T extends { centre: Point; line?: Point[] }>(f: T, dx: number, dy: number): T {
  return {
    ...f,
    centre: { x: f.centre.x + dx, y: f.centre.y + dy },
    ...(f.line ? { line: f.line.map((p) => ({ x: p.x + dx, y: p.y + dy })) } : {}),
  };
}

/** clip keeps readings and flaws on a piece that has become shorter. */
export function clip(s: Slab, to: number): Partial<Slab> {
  const under = (s.under ?? []).filter((st) => st.x <= to);
  return {
    under: under.length > 0 ? under : (s.under ?? []).slice(0, 1).map((st) => ({ ...st, x: 0 })),
    underOutline: (s.underOutline ?? []).map((p) => ({ ...p, x: Math.min(p.x, to) })),
    readings: s.readings.map((r) => ({ ...r, x: Math.min(r.x, to) })),
    flaws: s.flaws.map((f) => ({
      ...f,
      centre: { ...f.centre, x: Math.max(0, Math.min(f.centre.x, to)) },
      ...(f.line ? { line: f.line.map((p) => ({ ...p, x: Math.min(p.x, to + 500) })) } : {}),
    })),
  };
}
