// How a grip moves what it holds. Where the grips stand, what they move and how
// far comes with the reckoning; here a pointer or a key moves one.
import type { Grip, Motion, Node, Point } from "../../api/client";

const near = 1.5; // mm: a value is felt
const unsized = 1e-9;

const rad = Math.PI / 180;
const turnedBy = (about: Point, from: Point, to: Point): number =>
  (Math.atan2(to.y - about.y, to.x - about.x) - Math.atan2(from.y - about.y, from.x - about.x)) / rad;
const halfTurn = (angle: number): number => ((((angle + 180) % 360) + 360) % 360) - 180;

/** along is by how much a value grows when its grip is brought from one point to another. */
function along(m: Motion, from: Point, to: Point): number {
  const square = m.axis.x ** 2 + m.axis.y ** 2;
  return ((to.x - from.x) * m.axis.x + (to.y - from.y) * m.axis.y) / square;
}

const clamped = (m: Motion, v: number): number => Math.min(m.most, Math.max(m.least, stepped(m, v)));
const stepped = (m: Motion, v: number): number => Number((Math.round(v / m.step) * m.step).toFixed(6));
const stored = (m: Motion, v: number): number => (m.mostAs !== undefined && v >= m.most ? m.mostAs : v);

/** dragged is the value of a motion when its grip is brought to a place; across its axis it stays as it was. */
export function dragged(m: Motion, from: Point, to: Point): number {
  if (m.about) return halfTurn(m.value + Math.round(turnedBy(m.about, from, to)));
  const by = along(m, from, to);
  if (Math.abs(by) < unsized) return m.value;
  const v = m.value + by;
  return clamped(m, m.felt !== undefined && Math.abs(v - m.felt) < near ? m.felt : v);
}

/** nudged is a value that was `now`, moved by a key: by one step at the least, where it moves at all. */
export function nudged(m: Motion, now: number, at: Point, by: Point): number {
  const to = { x: at.x + by.x, y: at.y + by.y };
  const change = m.about ? turnedBy(m.about, at, to) : along(m, at, to);
  const share = m.about ? 1 : (Math.abs(change) * Math.hypot(m.axis.x, m.axis.y)) / (Math.hypot(by.x, by.y) || 1);
  if (share < 0.2 || Math.abs(change) < unsized) return now; // across its axis
  const far = Math.max(m.step, Math.abs(stepped(m, change)));
  const v = now + Math.sign(change) * far;
  return m.about ? halfTurn(v) : clamped(m, v);
}

/** placed is where a grip stands while it is dragged to a place. */
export function placed(g: Grip, to: Point): Point {
  let { x, y } = g.at;
  for (const m of g.moves) {
    const by = dragged(m, g.at, to) - m.value;
    if (m.about) {
      const [sin, cos] = [Math.sin(by * rad), Math.cos(by * rad)];
      const arm = { x: x - m.about.x, y: y - m.about.y };
      [x, y] = [m.about.x + arm.x * cos - arm.y * sin, m.about.y + arm.x * sin + arm.y * cos];
    } else {
      [x, y] = [x + m.axis.x * by, y + m.axis.y * by];
    }
  }
  return { x, y };
}

/** at reads the number at a JSON pointer; undefined where there is none. */
function at(doc: unknown, path: string[]): number | undefined {
  let here = doc;
  for (const key of path) here = (here as Record<string, unknown> | undefined)?.[key];
  return typeof here === "number" ? here : undefined;
}

/** put sets the number at a JSON pointer, and leaves alone what has no such place. */
function put<T>(doc: T, [key, ...rest]: string[], v: number): T {
  if (typeof doc !== "object" || doc === null) return doc;
  if (rest.length === 0) return { ...doc, [key]: v };
  if (Array.isArray(doc)) return doc.map((o: unknown, i) => (String(i) === key ? put(o, rest, v) : o)) as T;
  const inner = doc[key as keyof T] ?? {};
  return { ...doc, [key]: put(inner, rest, v) };
}

/** moved changes what a grip holds, by what each value becomes from what it is now. */
function moved<T>(doc: T, g: Grip, to: (m: Motion, now: number) => number): T {
  return g.moves.reduce((next, m) => {
    const path = m.path.split("/").slice(1);
    const now = at(next, path);
    // As it stands, where it is drawn as it stands and not clamped.
    const drawn = now !== undefined && (m.about !== undefined || (now >= m.least && now <= m.most));
    const v = to(m, drawn ? now : m.value);
    return v === (drawn ? now : m.value) ? next : put(next, path, stored(m, v));
  }, doc);
}

/** drag changes a document by a grip that is brought to a place. */
export const drag = <T>(doc: T, g: Grip, to: Point): T => moved(doc, g, (m) => dragged(m, g.at, to));

/** nudge changes a document by a grip that is moved by a key. */
export const nudge = <T>(doc: T, g: Grip, by: Point): T => moved(doc, g, (m, now) => nudged(m, now, g.at, by));

const anywhere = { least: -1e4, most: 1e4, step: 0.1 };

/** lineGrips are the points of a line that is not part of a design yet. */
export function lineGrips(nodes: Node[], key: string): Grip[] {
  return nodes.map((n, i) => ({
    key: `${key}-${i}`,
    part: "outline",
    label: `Point ${i + 1}`,
    at: n,
    moves: [
      { path: `/${i}/x`, value: n.x, axis: { x: 1, y: 0 }, ...anywhere },
      { path: `/${i}/y`, value: n.y, axis: { x: 0, y: 1 }, ...anywhere },
    ],
  }));
}
