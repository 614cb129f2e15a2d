// The grips of a shape: each stands where a dimension can be taken hold of, and
// says what of the design changes when it is put somewhere else. All in the
// board's own frame, mm.
import type { Design, Handle, Node, Point, Recess } from "../../api/client";
import { put } from "../../kit/items";

export interface Grip {
  id: string;
  label: string;
  at: Point;
  /** The part of the design that changes when the grip is put at a place. */
  drag: (d: Design, to: Point) => Partial<Design>;
}

type Box = readonly number[]; // min x, min y, max x, max y

const half = (v: number): number => Math.round(v * 2) / 2;
const atLeast = (v: number, least: number): number => Math.max(least, half(v));

/** handlesOf lists the handles with their place in the design: 0 for the first. */
export function handlesOf(d: Design): { handle: Handle; k: number }[] {
  return [d.handle, ...(d.more ?? [])].map((handle, k) => ({ handle, k })).filter((h) => h.handle.kind !== "none");
}

/** setHandle changes one handle of a design. */
export function setHandle(d: Design, k: number, part: Partial<Handle>): Partial<Design> {
  return k === 0 ? { handle: { ...d.handle, ...part } } : { more: put(d.more ?? [], k - 1, part) };
}

/** setRecess changes one recess of a design. */
export const setRecess = (d: Design, i: number, part: Partial<Recess>): Partial<Design> => ({ recesses: put(d.recesses ?? [], i, part) });

/** setNode changes one node of a free outline. */
export const setNode = (d: Design, i: number, part: Partial<Node>): Partial<Design> => ({ nodes: put(d.nodes ?? [], i, part) });

/** outward points out of an outline on the way from node i to the next. */
export function outward(nodes: Node[], i: number): { mid: Point; n: Point } {
  const a = nodes[i];
  const b = nodes[(i + 1) % nodes.length];
  const area = nodes.reduce((sum, p, k) => {
    const q = nodes[(k + 1) % nodes.length];
    return sum + p.x * q.y - q.x * p.y;
  }, 0);
  const l = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const side = area < 0 ? -1 : 1;
  return { mid: { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, n: { x: (side * (b.y - a.y)) / l, y: (-side * (b.x - a.x)) / l } };
}

function outlineGrips(d: Design): Grip[] {
  const [x, y] = [d.length / 2, d.width / 2];
  const length: Grip = { id: "length", label: "Length", at: { x: -x, y: 0 }, drag: (_, p) => ({ length: atLeast(2 * Math.abs(p.x), 30) }) };
  const width: Grip = { id: "width", label: "Width", at: { x: d.shape === "teardrop" ? -x + y : 0, y }, drag: (_, p) => ({ width: atLeast(2 * Math.abs(p.y), 20) }) };
  const corner: Grip = { id: "corner", label: "Corners", at: { x: x - d.corner, y: d.shape === "square" ? x : y }, drag: (o, p) => ({ corner: atLeast(o.length / 2 - p.x, 0) }) };
  switch (d.shape) {
    case "free":
      return [];
    case "circle":
      return [length];
    case "square":
      return [length, corner];
    case "oval":
    case "heart":
    case "half moon":
      return [length, width];
    case "teardrop":
      return [length, width];
    case "blade": {
      const lean = Math.tan((Math.abs(d.angle ?? 0) * Math.PI) / 180) * d.width;
      const up = (d.angle ?? 0) > 0;
      return [
        { ...length, at: { x: -x, y: up ? -y : y } },
        width,
        corner,
        { id: "angle", label: "Angle of the end", at: { x: -x + lean, y: up ? y : -y }, drag: (o, p) => ({ angle: Math.sign(p.y || 1) * Math.min(60, Math.max(0, half((Math.atan2(p.x + o.length / 2, o.width) * 180) / Math.PI))) }) },
      ];
    }
    case "paddle": {
      const shoulder = x - d.neckLength;
      return [
        length,
        { ...width, at: { x: (-x + shoulder) / 2, y } },
        { id: "neck", label: "Neck", at: { x: x - d.neckLength / 2, y: d.neck / 2 }, drag: (o, p) => ({ neck: Math.min(o.width, atLeast(2 * Math.abs(p.y), 10)) }) },
        { id: "neckLength", label: "Neck's length", at: { x: shoulder, y: (d.neck + d.width) / 4 }, drag: (o, p) => ({ neckLength: Math.min(o.length - 20, atLeast(o.length / 2 - p.x, 20)) }) },
        { id: "shoulder", label: "Shoulder", at: { x: shoulder + d.shoulder, y: -d.neck / 2 }, drag: (o, p) => ({ shoulder: atLeast(p.x - (o.length / 2 - o.neckLength), 0) }) },
      ];
    }
    default:
      return d.shape === "plank" ? [length, ...(d.keepLeft ? [] : [width])] : [length, width, corner];
  }
}

function handleGrips(d: Design, box: Box): Grip[] {
  const [lo, hi] = d.shape === "free" || (d.asCut ?? []).length > 0 ? [box[0], box[2]] : [-d.length / 2, d.length / 2];
  return handlesOf(d)
    .filter(({ handle: h }) => h.kind !== "bevel")
    .flatMap(({ handle: h, k }) => {
      const x = h.far ? lo + h.setback : hi - h.setback;
      const y = h.kind === "notch" ? (h.right ? box[1] + h.diameter : box[3] - h.diameter) : h.offset;
      const setback = (p: Point) => atLeast(h.far ? p.x - lo : hi - p.x, 2);
      const grips: Grip[] = [
        {
          id: `handle-${k}`,
          label: k === 0 ? "Handle" : `Handle ${k + 1}`,
          at: { x, y },
          drag: (o, p) => setHandle(o, k, { setback: setback(p), ...(h.local || h.kind === "notch" ? {} : { offset: Math.abs(p.y) < 1.5 ? 0 : half(p.y) }) }),
        },
      ];
      if (h.kind === "hole" || h.kind === "cord") {
        grips.push({ id: `handle-size-${k}`, label: "Diameter", at: { x: x + h.diameter / 2, y }, drag: (o, p) => setHandle(o, k, { diameter: atLeast(2 * Math.abs(p.x - x), 3) }) });
      }
      return grips;
    });
}

function recessGrips(d: Design, box: Box): Grip[] {
  return (d.recesses ?? []).flatMap((r, i) => {
    const name = `Recess ${i + 1}`;
    if (r.kind === "groove") return [{ id: `recess-inset-${i}`, label: `${name}, from the edge`, at: { x: 0, y: box[3] - (r.inset ?? 0) }, drag: (o: Design, p: Point) => setRecess(o, i, { inset: atLeast(box[3] - p.y, 1) }) }];
    const grips: Grip[] = [];
    if (!r.count || r.count < 2 || r.spread !== "ends") {
      grips.push({ id: `recess-${i}`, label: name, at: { x: r.x, y: r.y }, drag: (o, p) => setRecess(o, i, { x: half(p.x), y: half(p.y) }) });
    }
    if (!r.item && (!r.count || r.count < 2)) {
      grips.push({
        id: `recess-size-${i}`,
        label: `${name}, size`,
        at: { x: r.x + (r.length ?? 0) / 2, y: r.kind === "ring" ? r.y : r.y + (r.width ?? 0) / 2 },
        drag: (o, p) => setRecess(o, i, { length: atLeast(2 * Math.abs(p.x - r.x), 10), ...(r.kind === "ring" ? {} : { width: atLeast(2 * Math.abs(p.y - r.y), 5) }) }),
      });
    }
    return grips;
  });
}

const fine = (v: number): number => Math.round(v * 10) / 10;

/** nodeGrips are the nodes of a line, and the rise of its arcs and battens. */
export function nodeGrips(nodes: Node[], prefix: string, set: (d: Design, nodes: Node[]) => Partial<Design>, now: (d: Design) => Node[]): Grip[] {
  return nodes.flatMap((n, i) => {
    const grips: Grip[] = [{ id: `${prefix}-${i}`, label: `Point ${i + 1}`, at: n, drag: (d, p) => set(d, put(now(d), i, { x: fine(p.x), y: fine(p.y) })) }];
    if (n.run) {
      const { mid, n: out } = outward(nodes, i);
      const rise = n.rise ?? 0;
      grips.push({
        id: `${prefix}-rise-${i}`,
        label: `Rise after point ${i + 1}`,
        at: { x: mid.x + out.x * rise, y: mid.y + out.y * rise },
        drag: (d, p) => set(d, put(now(d), i, { rise: half((p.x - mid.x) * out.x + (p.y - mid.y) * out.y) })),
      });
    }
    return grips;
  });
}

/** gripsOf lists the grips of a part of the shape. */
export function gripsOf(d: Design, part: string, box: Box): Grip[] {
  switch (part) {
    case "handles":
      return handleGrips(d, box);
    case "recesses":
      return recessGrips(d, box);
    case "outline":
      return d.shape === "free" ? nodeGrips(d.nodes ?? [], "node", (_, nodes) => ({ nodes }), (o) => o.nodes ?? []) : outlineGrips(d);
    case "cut":
      return nodeGrips(d.asCut ?? [], "cut", (_, asCut) => ({ asCut }), (o) => o.asCut ?? []);
  }
  return [];
}

/** Mirrored is the node on the other side of the centre line, for half a template. */
export const mirrored = (n: Node): Node => ({ ...n, y: -n.y });
