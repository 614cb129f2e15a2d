// Lines of a design that are drawn by points, and its handles and recesses by
// their place.
import type { Board, Design, Handle, Node, Reckoned, Recess, Tables } from "../../api/client";
import { cut, put } from "../../kit/items";
import { merge } from "../../kit/merge";

/** SetDesign changes part of a design, from what it is when the change is made. */
export type SetDesign = (change: Partial<Design> | ((d: Design) => Partial<Design>), kind?: string) => void;

/** designer changes the design of a board. */
export const designer =
  (change: (next: (b: Board) => Board, kind?: string) => void): SetDesign =>
  (part, kind = "") =>
    change(
      (b) => ({ ...b, design: { ...b.design, ...(typeof part === "function" ? part(b.design) : part) } }),
      kind && `design-${kind}`,
    );

/** What is drawn on the board in the Shape stage. */
export interface Shaping {
  part: string;
  picked: string;
  pick: (key: string) => void;
  /** A line that is drawn across the board to split it. */
  line: Node[];
  setLine: (line: Node[] | ((now: Node[]) => Node[])) => void;
  onDragging: (dragging: boolean) => void;
}

/** setHandle changes one handle of a design: 0 is the first. */
export function setHandle(d: Design, k: number, part: Partial<Handle>): Partial<Design> {
  return k === 0 ? { handle: { ...d.handle, ...part } } : { more: put(d.more ?? [], k - 1, part) };
}

/** recast is what of a design changes with another shape, as it was reckoned. */
export const recast = (d: Design, r: Reckoned, shape: Design["shape"]): Partial<Design> =>
  merge(d, r.shape.recasts.find((o) => o.kind === shape)?.start ?? {});

/** rehandled is what of a design changes with another kind of handle. */
export function rehandled(d: Design, tables: Tables, k: number, kind: Handle["kind"]): Partial<Design> {
  return setHandle(d, k, { kind, ...(tables.handles.find((o) => o.kind === kind)?.start as Partial<Handle>) });
}

/** setRecess changes one recess of a design. */
export const setRecess = (d: Design, i: number, part: Partial<Recess>): Partial<Design> => ({
  recesses: put(d.recesses ?? [], i, part),
});

/** Line is the outline, the outline as it was cut, or a hole by its place among the handles. */
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

/** withoutNode takes the point of a grip out of its line. */
export function withoutNode(d: Design, grip: string): Partial<Design> {
  const [, line, at] = /^(node|cut|own-\d+)-(\d+)$/.exec(grip) ?? [];
  return line ? withNodes(d, line as Line, cut(nodesOf(d, line as Line), Number(at))) : {};
}

/** mirrored is the point on the other side of the centre line, for half a template. */
export const mirrored = (n: Node): Node => ({ ...n, y: -n.y });

/** started is one of a list of kinds with what it begins with, where that is not set yet. */
export const started = <T extends object>(now: T, start: Record<string, unknown> | undefined): T => {
  const unset = Object.entries(start ?? {}).filter(([k]) => !now[k as keyof T]);
  return { ...now, ...Object.fromEntries(unset) };
};

/** redrawn is what of a design changes with an outline from elsewhere; least gives the least of a field. */
export function redrawn(
  o: { nodes: Node[]; length: number; width: number },
  least: (of: string) => number,
): Pick<Design, "shape" | "nodes" | "half" | "length" | "width"> {
  const size = (of: string, mm: number) => Math.max(least(of), Math.round(mm));
  return {
    shape: "free",
    nodes: o.nodes,
    half: false,
    length: size("board.design.length", o.length),
    width: size("board.design.width", o.width),
  };
}
