// Marking what is gone on the drawing of a board: a line, an area or a place, drawn with a finger or typed.
import { useState, type PointerEvent } from "react";
import type { Hurt, MishapKind, Point } from "../api/client";
import { LengthField } from "../kit/fields";
import { HurtPaths, frameOf } from "./HurtDrawing";

export type Mark = "line" | "area" | "place";
export interface Marked {
  mark: Mark;
  points: Point[];
}

/** marksOf are the marks by which what is gone of a kind is told on the drawing. */
export const marksOf = (kind: MishapKind): Mark[] =>
  (["area", "line", "place"] as const).filter((m) => kind.marks.includes(m));

const names: Record<Mark, string> = {
  area: "Round what is gone",
  line: "Along the line",
  place: "Where it is",
};

const told: Record<Mark, string> = {
  area: "Draw round what is gone with a finger, also over the edge.",
  line: "Draw along it with a finger, from end to end.",
  place: "Press on its middle.",
};

/** mostPoints is how many points of a mark are kept. */
const mostPoints = 60;

/** thinned keeps every so many points of what a finger drew, and its end. */
function thinned(points: Point[]): Point[] {
  const every = Math.ceil(points.length / mostPoints);
  return points.filter((_, i) => i % every === 0 || i === points.length - 1);
}

/** boxOf is the box of some points. */
function boxOf(points: Point[]): { x0: number; y0: number; x1: number; y1: number } {
  const xs = points.map((p) => p.x);
  const ys = points.map((p) => p.y);
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) };
}

interface Props {
  of: Hurt;
  kind: MishapKind;
  marked: Marked;
  onMark: (marked: Marked) => void;
}

export function MarkGone({ of, kind, marked, onMark }: Props) {
  const [drawing, setDrawing] = useState<Point[] | null>(null);
  const { mark, points } = marked;
  const f = frameOf(of);
  const at = (e: PointerEvent<SVGSVGElement>): Point | null => {
    const to = e.currentTarget.getScreenCTM()?.inverse();
    if (!to) return null;
    const p = new DOMPoint(e.clientX, e.clientY).matrixTransform(to);
    return { x: Math.round(p.x * 2) / 2, y: Math.round(-p.y * 2) / 2 };
  };
  const begin = (e: PointerEvent<SVGSVGElement>) => {
    const p = at(e);
    if (!p) return;
    e.currentTarget.setPointerCapture(e.pointerId);
    setDrawing([p]);
  };
  const go = (e: PointerEvent<SVGSVGElement>) => {
    const p = at(e);
    if (p && drawing) setDrawing(mark === "place" ? [p] : [...drawing, p]);
  };
  const end = () => {
    if (!drawing) return;
    setDrawing(null);
    if (mark === "place" || drawing.length > 2) onMark({ mark, points: thinned(drawing) });
  };
  const seen = drawing ?? points;
  const line = seen.map((p, i) => `${i === 0 ? "M" : "L"}${p.x} ${p.y}`).join("");
  return (
    <div className="mark-gone">
      {marksOf(kind).length > 1 && (
        <div className="choice-row" role="group" aria-label="How it is marked">
          {marksOf(kind).map((m) => (
            <button key={m} type="button" aria-pressed={mark === m} onClick={() => onMark({ mark: m, points: [] })}>
              {names[m]}
            </button>
          ))}
        </div>
      )}
      <p className="hint">{told[mark]}</p>
      <svg
        className="hurt-drawing marking"
        viewBox={`${f.x} ${f.y} ${f.wide} ${f.high}`}
        style={{ strokeWidth: f.line }}
        role="img"
        aria-label="The board, to mark what is gone"
        onPointerDown={begin}
        onPointerMove={go}
        onPointerUp={end}
        onPointerCancel={() => setDrawing(null)}
      >
        <g transform="scale(1 -1)">
          <HurtPaths of={{ ...of, gone: [] }} />
          {mark === "place"
            ? seen.map((p, i) => <circle key={i} className="hurt-gone" cx={p.x} cy={p.y} r={f.line * 4} />)
            : line && <path d={mark === "area" ? `${line}z` : line} className={`hurt-gone ${mark}`} />}
        </g>
      </svg>
      <Typed of={of} marked={marked} onMark={onMark} />
    </div>
  );
}

/** Typed is the mark in numbers: from the far end and from the centre line. */
function Typed({ of, marked: { mark, points }, onMark }: Omit<Props, "kind">) {
  const end = of.box[0];
  const b = points.length > 0 ? boxOf(points) : { x0: end, y0: 0, x1: end, y1: 0 };
  const set = (next: Partial<typeof b>) => {
    const n = { ...b, ...next };
    if (mark === "place") return onMark({ mark, points: [{ x: n.x0, y: n.y0 }] });
    if (mark === "line")
      return onMark({
        mark,
        points: [
          { x: n.x0, y: n.y0 },
          { x: n.x1, y: n.y1 },
        ],
      });
    return onMark({
      mark,
      points: [
        { x: n.x0, y: n.y0 },
        { x: n.x1, y: n.y0 },
        { x: n.x1, y: n.y1 },
        { x: n.x0, y: n.y1 },
      ],
    });
  };
  return (
    <details className="mark-typed">
      <summary>In numbers</summary>
      <div className="field-row">
        <LengthField label="From the far end" mm={b.x0 - end} onChange={(v) => set({ x0: v + end })} signed />
        <LengthField label="Left of the centre line" mm={b.y0} onChange={(y0) => set({ y0 })} signed />
        {mark !== "place" && (
          <>
            <LengthField label="To, from the far end" mm={b.x1 - end} onChange={(v) => set({ x1: v + end })} signed />
            <LengthField label="To, left of the line" mm={b.y1} onChange={(y1) => set({ y1 })} signed />
          </>
        )}
      </div>
    </details>
  );
}
