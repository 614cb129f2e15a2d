// Flaws and features as they are made and moved.
import type { Feature, Flaw, Mark, Point, Slab } from "../api/client";

const round = (v: number) => Math.round(v * 2) / 2;

const pressed = 3; // mm: less is no drag

let serial = 0;
const newId = () => `${Date.now().toString(36)}-${(serial++).toString(36)}`;

/** drawn is where a mark lies that is dragged from a to b: a line, the corners of an area, or an oval about a. */
function drawn(m: Mark, a: Point, b: Point): { line?: Point[]; a?: number; b?: number } {
  const at = (x: number, y: number): Point => ({ x: round(x), y: round(y) });
  const far = Math.hypot(b.x - a.x, b.y - a.y);
  const share = m.share || 1;
  if (m.drawn === "line") return { line: [at(a.x, a.y), far < pressed ? at(a.x + m.least, a.y) : at(b.x, b.y)] };
  if (m.drawn === "area") {
    // Round the drag; its corners may be set one by one.
    const rx = Math.max(m.least, Math.abs(b.x - a.x));
    const ry = Math.max(m.least, Math.abs(b.y - a.y) || rx * share);
    const corner = (_: unknown, i: number) =>
      at(a.x + rx * Math.cos((i * Math.PI) / 5), a.y + ry * Math.sin((i * Math.PI) / 5));
    return { line: Array.from({ length: 10 }, corner) };
  }
  const reach = Math.min(m.most || Infinity, Math.max(m.least, far));
  return { a: round(reach), b: round(reach * share) };
}

/** newFlaw is a flaw of a kind that is dragged from a to b. */
export function newFlaw(m: Mark, a: Point, b: Point, under: boolean): Flaw {
  const blank = { through: false, depth: 0, width: 0, slot: false, a: 0, b: 0, angle: 0, count: 0, diameter: 0 };
  const centre = { x: round(a.x), y: round(a.y) };
  return { ...blank, id: newId(), kind: m.kind as Flaw["kind"], under, centre, ...drawn(m, a, b), ...m.start };
}

/** newFeature is a feature of a kind that is dragged from a to b. */
export function newFeature(m: Mark, a: Point, b: Point, under: boolean): Feature {
  const centre = { x: round(a.x), y: round(a.y) };
  return { id: newId(), kind: m.kind as Feature["kind"], under, centre, ...drawn(m, a, b), ...m.start };
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
