// Flaws and features as they are made and moved.
import type { Feature, Flaw, Point, Slab } from "../api/client";

export const flawKinds: Record<string, string> = {
  crack: "Crack",
  knot: "Knot",
  bark: "Bark pocket",
  soft: "Soft wood",
  worm: "Worm holes",
  dent: "Dent",
  hole: "Old hole",
};

const round = (v: number) => Math.round(v * 2) / 2;

let serial = 0;
const newId = () => `${Date.now().toString(36)}-${(serial++).toString(36)}`;

/** newFlaw is a flaw of a kind from a to b: a line, or a place and its reach. */
export function newFlaw(kind: string, a: { x: number; y: number }, b: { x: number; y: number }, under: boolean): Flaw {
  const reach = Math.max(2, Math.hypot(b.x - a.x, b.y - a.y));
  const base: Flaw = {
    id: newId(),
    kind: kind as Flaw["kind"],
    under,
    through: false,
    depth: 10,
    width: 3,
    slot: false,
    centre: { x: round(a.x), y: round(a.y) },
    a: 0,
    b: 0,
    angle: 0,
    count: 0,
    diameter: 0,
  };
  switch (kind) {
    case "crack":
      if (reach < 3) b = { x: a.x + 40, y: a.y }; // pressed without a drag
      return { ...base, line: [a, b].map((p) => ({ x: round(p.x), y: round(p.y) })) };
    case "bark":
    case "soft": {
      // An area round the drag; its corners may be set one by one.
      const rx = Math.max(4, Math.abs(b.x - a.x));
      const ry = Math.max(4, Math.abs(b.y - a.y) || rx * 0.6);
      const line = Array.from({ length: 10 }, (_, i) => ({
        x: round(a.x + rx * Math.cos((i * Math.PI) / 5)),
        y: round(a.y + ry * Math.sin((i * Math.PI) / 5)),
      }));
      return { ...base, line };
    }
    case "knot":
      return { ...base, a: round(reach), b: round(reach * 0.75), state: "missing" };
    case "worm":
      return { ...base, a: round(reach), b: round(reach), count: 6, diameter: 2, depth: 6 };
    case "dent":
      return { ...base, a: round(reach), b: round(reach), depth: 2 };
  }
  return { ...base, a: round(Math.min(reach, 30)), b: round(Math.min(reach, 30)), through: true };
}

/** featureKinds are what is worth showing. */
export const featureKinds: Record<string, string> = {
  figure: "Figure",
  burr: "Burr",
  colour: "Colour",
  streak: "Streak",
};

/** newFeature is a feature from a to b: a streak along it, or a patch about a. */
export function newFeature(kind: string, a: Point, b: Point, under: boolean): Feature {
  const reach = Math.max(8, Math.hypot(b.x - a.x, b.y - a.y));
  const base: Feature = { id: newId(), kind: kind as Feature["kind"], under, centre: { x: round(a.x), y: round(a.y) } };
  if (kind === "streak")
    return {
      ...base,
      line: [a, reach > 8 ? b : { x: a.x + 80, y: a.y }].map((p) => ({ x: round(p.x), y: round(p.y) })),
      width: 12,
    };
  return { ...base, a: round(reach), b: round(reach * 0.6) };
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
