// The grips of a shape: each stands where a dimension can be taken hold of, and
// says what of the design changes when it is put somewhere else. All in the
// board's own frame, mm.
import type { Design, End, Handle, Node, Point, Reckoned, Recess } from "../../api/client";
import { cut, put } from "../../kit/items";

export interface Grip {
  id: string;
  label: string;
  at: Point;
  /** The part of the design that changes when the grip is put at a place. */
  drag: (d: Design, to: Point) => Partial<Design>;
}

type Box = readonly number[]; // min x, min y, max x, max y

/** What of a reckoned shape says where grips stand. */
export interface Seen {
  box: Box;
  /** What the handles' offsets count from, y. */
  middles: readonly number[];
  /** A place on the right side. */
  flank: Point;
  /** Of a plank: from its right to its left edge at the handle end and at the far end. */
  ends: readonly (readonly number[])[];
}

/** seen is what the grips need of a reckoned board. */
export const seen = (r: Reckoned): Seen => ({ box: r.box, middles: r.shape.middles, flank: r.shape.flank, ends: r.shape.ends });

const half = (v: number): number => Math.round(v * 2) / 2;
const atLeast = (v: number, least: number): number => Math.max(least, half(v));
const degrees = (v: number): number => (v * 180) / Math.PI;

/** round turns a vector about the origin, in degrees. */
function round(p: Point, angle: number): Point {
  const [sin, cos] = [Math.sin((angle * Math.PI) / 180), Math.cos((angle * Math.PI) / 180)];
  return { x: p.x * cos - p.y * sin, y: p.x * sin + p.y * cos };
}

/** handlesOf lists the handles with their place in the design: 0 for the first. */
export function handlesOf(d: Design): { handle: Handle; k: number }[] {
  return [d.handle, ...(d.more ?? [])].map((handle, k) => ({ handle, k })).filter((h) => h.handle.kind !== "none");
}

/** setHandle changes one handle of a design. */
export function setHandle(d: Design, k: number, part: Partial<Handle>): Partial<Design> {
  return k === 0 ? { handle: { ...d.handle, ...part } } : { more: put(d.more ?? [], k - 1, part) };
}

/** Line is a line of a design that is drawn by points: its outline, its outline as it was cut, or a hole by its place among the handles. */
export type Line = "node" | "cut" | `own-${number}`;

const holeOf = (line: Line): number => Number(line.slice("own-".length));

/** nodesOf are the points of a line. */
export function nodesOf(d: Design, line: Line): Node[] {
  if (line === "node") return d.nodes ?? [];
  if (line === "cut") return d.asCut ?? [];
  const k = holeOf(line);
  return (k === 0 ? d.handle : d.more?.[k - 1])?.nodes ?? [];
}

/** withNodes changes the points of a line. */
export function withNodes(d: Design, line: Line, nodes: Node[]): Partial<Design> {
  if (line === "node") return { nodes };
  if (line === "cut") return { asCut: nodes };
  return setHandle(d, holeOf(line), { nodes });
}

/** setRecess changes one recess of a design. */
export const setRecess = (d: Design, i: number, part: Partial<Recess>): Partial<Design> => ({ recesses: put(d.recesses ?? [], i, part) });

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

/** tipGrip moves the radius of a point; 0 is what it is when it is left out. */
const tipGrip = (d: Design, label: string, at: Point, radius: (p: Point) => number): Grip => ({
  id: "tip",
  label,
  at,
  drag: (_, p) => {
    const tip = atLeast(radius(p), 0);
    return tip === (d.tip ?? 0) ? {} : { tip };
  },
});

function outlineGrips(d: Design, seen: Seen): Grip[] {
  const [x, y] = [d.length / 2, d.width / 2];
  const length: Grip = { id: "length", label: "Length", at: { x: -x, y: 0 }, drag: (_, p) => ({ length: atLeast(2 * Math.abs(p.x), 30) }) };
  const width: Grip = { id: "width", label: "Width", at: { x: 0, y }, drag: (_, p) => ({ width: atLeast(2 * Math.abs(p.y), 20) }) };
  const corner: Grip = { id: "corner", label: "Corners", at: { x: x - d.corner, y: d.shape === "square" ? x : y }, drag: (o, p) => ({ corner: atLeast(o.length / 2 - p.x, 0) }) };
  switch (d.shape) {
    case "free":
      return [];
    case "circle":
      return [length];
    case "square":
      return [length, corner];
    case "oval":
      return [length, width];
    case "half moon":
      return [length, width, { ...corner, at: { x: x - d.corner, y: -Math.min(y, x / 2) } }];
    case "teardrop":
      return [length, { ...width, at: { x: -x + y, y } }, tipGrip(d, "Radius of the point", { x: x - 2 * (d.tip ?? 0), y: 0 }, (p) => (x - p.x) / 2)];
    case "heart": {
      // The lobes are two rounds; the notch between them is rounded by a third that touches both.
      const lobe = Math.min(0.28 * d.width, 0.45 * d.length);
      const [off, cx] = [y - lobe, x - lobe];
      const notch = (f: number) => cx + Math.sqrt(Math.max(0, (lobe + f) ** 2 - off ** 2)) - f;
      return [
        { ...length, at: { x, y: off } },
        { ...width, at: { x: cx, y } },
        tipGrip(d, "Radius of the point", { x: -x + 2 * (d.tip ?? 0), y: 0 }, (p) => (x + p.x) / 2),
        {
          id: "shoulder",
          label: "Radius of the notch",
          at: { x: notch(d.shoulder), y: 0 },
          drag: (o, p) => {
            const u = Math.min(p.x - cx, lobe - 0.5);
            return { shoulder: Math.min(o.length, atLeast((lobe ** 2 - off ** 2 - u ** 2) / (2 * (u - lobe)), 0)) };
          },
        },
      ];
    }
    case "blade": {
      const lean = Math.tan((Math.abs(d.angle ?? 0) * Math.PI) / 180) * d.width;
      const up = (d.angle ?? 0) > 0;
      return [
        { ...length, at: { x: -x, y: up ? -y : y } },
        width,
        corner,
        { id: "angle", label: "Angle of the end", at: { x: -x + lean, y: up ? y : -y }, drag: (o, p) => ({ angle: Math.sign(p.y || 1) * Math.min(60, Math.max(0, half(degrees(Math.atan2(p.x + o.length / 2, o.width))))) }) },
      ];
    }
    case "paddle": {
      const shoulder = x - d.neckLength;
      const tip = d.tip || d.neck / 2; // left out: a full round
      return [
        length,
        { ...width, at: { x: (-x + shoulder) / 2, y } },
        { ...corner, at: { x: -x + d.corner, y }, drag: (o, p) => ({ corner: atLeast(p.x + o.length / 2, 0) }) },
        { id: "neck", label: "Neck", at: { x: x - d.neckLength / 2, y: d.neck / 2 }, drag: (o, p) => ({ neck: Math.min(o.width, atLeast(2 * Math.abs(p.y), 10)) }) },
        { id: "neckLength", label: "Neck's length", at: { x: shoulder, y: (d.neck + d.width) / 4 }, drag: (o, p) => ({ neckLength: Math.min(o.length - 20, atLeast(o.length / 2 - p.x, 20)) }) },
        { id: "shoulder", label: "Shoulder", at: { x: shoulder + d.shoulder, y: -d.neck / 2 }, drag: (o, p) => ({ shoulder: atLeast(p.x - (o.length / 2 - o.neckLength), 0) }) },
        tipGrip(d, "Corners of the neck's end", { x: x - tip, y: -d.neck / 2 }, (p) => (half(x - p.x) >= half(d.neck / 2) ? 0 : Math.max(0.5, x - p.x))),
      ];
    }
    case "plank":
      return [length, ...plankGrips(d, seen)];
    default:
      return [length, width, corner];
  }
}

function plankGrips(d: Design, { box, ends }: Seen): Grip[] {
  const [x, y] = [d.length / 2, d.width / 2];
  const grips: Grip[] = [];
  if (!d.keepLeft || !d.keepRight) {
    grips.push({ id: "width", label: "Width", at: { x: 0, y: d.keepLeft ? -y : y }, drag: (_, p) => ({ width: atLeast(2 * Math.abs(p.y), 20) }) });
  }
  if (d.keepLeft || d.keepRight) {
    const [edge, inward] = d.keepLeft ? [box[3], -1] : [box[1], 1];
    grips.push({
      id: "inset",
      label: "Inside the natural edge by",
      at: { x: -x / 2, y: edge },
      drag: (_, p) => {
        const inset = atLeast((d.inset ?? 0) + inward * (p.y - edge), 0);
        return inset === (d.inset ?? 0) ? {} : { inset };
      },
    });
  }
  for (const [i, key] of (["handleEnd", "farEnd"] as const).entries()) {
    const e = d[key];
    if (!e?.kind) continue;
    const name = i === 0 ? "Handle end" : "Far end";
    const way = i === 0 ? 1 : -1;
    const [from, to] = ends[i] ?? [-y, y];
    const middle = (from + to) / 2;
    const grip = (id: string, label: string, at: Point, change: (p: Point) => Partial<End>): void => {
      grips.push({ id: `${key}-${id}`, label: `${name}, ${label}`, at, drag: (o, p) => ({ [key]: { ...o[key], ...change(p) } }) });
    };
    const width = e.width ?? 50;
    const long = e.length ?? 90;
    switch (e.kind) {
      case "angle":
        grip("angle", "angle", { x: way * x - Math.tan(((e.angle ?? 0) * Math.PI) / 180) * (to - middle), y: to }, (p) => ({ angle: Math.min(60, Math.max(-60, half(degrees(Math.atan2(way * x - p.x, to - middle))))) }));
        break;
      case "curve":
        grip("rise", "rise", { x: way * (x + (e.rise ?? 0)), y: middle }, (p) => ({ rise: half(way * p.x - x) }));
        break;
      case "tab":
        grip("width", "tab's width", { x: way * (x - long / 2), y: middle + width / 2 }, (p) => ({ width: atLeast(2 * Math.abs(p.y - middle), 10) }));
        grip("length", "tab's length", { x: way * (x - long), y: (middle + width / 2 + to) / 2 }, (p) => ({ length: atLeast(x - way * p.x, 10) }));
        grip("round", "shoulders of the tab", { x: way * (x - long + (e.round ?? 0)), y: middle - width / 2 }, (p) => ({ round: atLeast(way * p.x - (x - long), 0) }));
    }
  }
  return grips;
}

/** slantGrip moves the narrower face in. */
function slantGrip(d: Design, flank: Point): Grip {
  return {
    id: "slant",
    label: "Edges slant in by",
    at: { x: flank.x, y: flank.y + (d.slant ?? 0) },
    drag: (o, p) => {
      const slant = Math.min(60, atLeast(p.y - flank.y, 0));
      return slant === (o.slant ?? 0) ? {} : { slant };
    },
  };
}

function handleGrips(d: Design, { box, middles }: Seen): Grip[] {
  const [lo, hi] = d.shape === "free" || (d.asCut ?? []).length > 0 ? [box[0], box[2]] : [-d.length / 2, d.length / 2];
  return handlesOf(d)
    .filter(({ handle: h }) => h.kind !== "bevel")
    .flatMap(({ handle: h, k }) => {
      const name = k === 0 ? "Handle" : `Handle ${k + 1}`;
      const x = h.far ? lo + h.setback : hi - h.setback;
      const setback = (p: Point) => atLeast(h.far ? p.x - lo : hi - p.x, 2);
      const grips: Grip[] = [];
      const grip = (id: string, label: string, at: Point, change: (p: Point) => Partial<Handle>): void => {
        grips.push({ id: `${id}-${k}`, label: id === "handle" ? label : `${name}, ${label}`, at, drag: (o, p) => setHandle(o, k, change(p)) });
      };
      if (h.kind === "notch") {
        const [edge, inward] = h.right ? [box[1], 1] : [box[3], -1];
        grip("handle", name, { x, y: edge + (inward * h.diameter) / 2 }, (p) => ({ setback: setback(p) }));
        grip("handle-size", "depth", { x, y: edge + inward * h.diameter }, (p) => ({ diameter: atLeast(inward * (p.y - edge), 3) }));
        grip("handle-length", "length", { x: x - h.length / 2, y: edge }, (p) => ({ length: atLeast(2 * Math.abs(p.x - x), 5) }));
        return grips;
      }
      const middle = middles[k] ?? 0;
      const c = { x, y: middle + h.offset };
      grip("handle", name, c, (p) => ({ setback: setback(p), offset: Math.abs(p.y - middle) < 1.5 ? 0 : half(p.y - middle) }));
      // What is long has its own frame: its length along x, turned about its centre.
      const turn = (h.turn ?? 0) + (h.kind === "slot" && d.shape !== "paddle" ? 90 : 0) + (h.kind === "crescent" ? 90 : 0);
      const out = (p: Point): Point => {
        const q = round(p, turn);
        return { x: c.x + q.x, y: c.y + q.y };
      };
      const into = (p: Point): Point => round({ x: p.x - c.x, y: p.y - c.y }, -turn);
      if (h.kind === "hole" || h.kind === "cord") {
        grip("handle-size", "diameter", { x: x + h.diameter / 2, y: c.y }, (p) => ({ diameter: atLeast(2 * Math.abs(p.x - x), 3) }));
        return grips;
      }
      let reach = h.length / 2;
      if (h.kind === "own") {
        const nodes = h.nodes ?? [];
        reach = Math.max(10, ...nodes.map((n) => n.x));
        grips.push(
          ...lineGrips(d, `own-${k}`).map((g) => ({ ...g, label: `${name}, ${g.label.toLowerCase()}`, at: out(g.at), drag: (o: Design, p: Point) => g.drag(o, into(p)) })),
        );
      } else {
        grip("handle-length", "length", out({ x: -h.length / 2, y: 0 }), (p) => ({ length: atLeast(2 * Math.abs(into(p).x), h.kind === "slot" ? h.diameter : 5) }));
        grip("handle-size", "width", out({ x: 0, y: h.diameter / 2 }), (p) => ({ diameter: atLeast(2 * Math.abs(into(p).y), 3) }));
      }
      grip("handle-turn", "turned", out({ x: reach + 12, y: 0 }), (p) => {
        const q = into(p);
        const by = Math.round(degrees(Math.atan2(q.y, q.x)));
        return by === 0 ? {} : { turn: (((h.turn ?? 0) + by + 540) % 360) - 180 };
      });
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

/** cornerOf is a node between two others: the way along the line that halves its angle, and half of that angle. */
function cornerOf(nodes: Node[], i: number, halved: boolean): { way: Point; angle: number } | null {
  const n = nodes[i];
  const unit = (o: Node): Point => {
    const l = Math.hypot(o.x - n.x, o.y - n.y) || 1;
    return { x: (o.x - n.x) / l, y: (o.y - n.y) / l };
  };
  const last = nodes.length - 1;
  const before = i > 0 ? nodes[i - 1] : halved ? mirrored(nodes[1]) : nodes[last];
  const after = i < last ? nodes[i + 1] : halved ? mirrored(nodes[last - 1]) : nodes[0];
  const [u, v] = [unit(before), unit(after)];
  const sum = { x: u.x + v.x, y: u.y + v.y };
  const l = Math.hypot(sum.x, sum.y);
  if (l < 1e-3) return null;
  return { way: { x: sum.x / l, y: sum.y / l }, angle: Math.acos(Math.max(-1, Math.min(1, u.x * v.x + u.y * v.y))) / 2 };
}

/** nodeGrips are the nodes of a line, the rise of its arcs and battens, and what rounds, cuts or moves it. */
export function nodeGrips(nodes: Node[], prefix: string, set: (d: Design, nodes: Node[]) => Partial<Design>, now: (d: Design) => Node[], halved = false): Grip[] {
  return nodes.flatMap((n, i) => {
    const grips: Grip[] = [{ id: `${prefix}-${i}`, label: `Point ${i + 1}`, at: n, drag: (d, p) => set(d, put(now(d), i, { x: fine(p.x), y: fine(p.y) })) }];
    const along = (id: string, label: string, from: Point, way: Point, far: number, change: (far: number) => Partial<Node>): void => {
      grips.push({
        id: `${prefix}-${id}-${i}`,
        label: `${label} point ${i + 1}`,
        at: { x: from.x + way.x * far, y: from.y + way.y * far },
        drag: (d, p) => set(d, put(now(d), i, change((p.x - from.x) * way.x + (p.y - from.y) * way.y))),
      });
    };
    if (n.run) {
      const { mid, n: out } = outward(nodes, i);
      along("rise", "Rise after", mid, out, n.rise ?? 0, (far) => ({ rise: half(far) }));
    } else if (n.in) {
      const { mid, n: out } = outward(nodes, i);
      along("in", "Edge moved in after", mid, out, -n.in, (far) => ({ in: half(-far) }));
    }
    const corner = n.round || n.cut ? cornerOf(nodes, i, halved) : null;
    if (corner && n.round) {
      const share = 1 / Math.sin(corner.angle) - 1; // of the radius, from the corner to the round
      if (share > 0.01) along("round", "Round at", n, corner.way, n.round * share, (far) => ({ round: atLeast(far / share, 0) }));
    } else if (corner && n.cut) {
      const share = Math.cos(corner.angle);
      if (share > 0.01) along("cut", "Cut at", n, corner.way, n.cut * share, (far) => ({ cut: atLeast(far / share, 0) }));
    }
    return grips;
  });
}

/** lineGrips are the grips of a line of the design. */
const lineGrips = (d: Design, line: Line): Grip[] => nodeGrips(nodesOf(d, line), line, (o, nodes) => withNodes(o, line, nodes), (o) => nodesOf(o, line), line === "node" && d.half);

/** gripsOf lists the grips of a part of the shape. */
export function gripsOf(d: Design, part: string, seen: Seen): Grip[] {
  switch (part) {
    case "handles":
      return handleGrips(d, seen);
    case "recesses":
      return recessGrips(d, seen.box);
    case "outline":
      return [...(d.shape === "free" ? lineGrips(d, "node") : outlineGrips(d, seen)), slantGrip(d, seen.flank)];
    case "cut":
      return lineGrips(d, "cut");
  }
  return [];
}

/** withoutNode takes the node of a grip out of its line, where enough of it is left. */
export function withoutNode(d: Design, grip: string): Partial<Design> {
  const [, line, at] = /^(node|cut|own-\d+)-(\d+)$/.exec(grip) ?? [];
  if (!line) return {};
  const nodes = nodesOf(d, line as Line);
  const least = line === "node" && d.half ? 2 : 3;
  return nodes.length > least ? withNodes(d, line as Line, cut(nodes, Number(at))) : {};
}

/** Mirrored is the node on the other side of the centre line, for half a template. */
export const mirrored = (n: Node): Node => ({ ...n, y: -n.y });
