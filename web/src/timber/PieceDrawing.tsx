// The piece as it is drawn and worked on: flaws and features are marked and
// moved, the nodes of an outline and the thickness readings dragged, by pointer
// and by keys.
import { useRef, useState, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import type { Photo, Point, Slab, Wood } from "../api/client";
import { type Doc } from "../kit/document/useDocument";
import { cut, put } from "../kit/items";
import { WoodDrawing, type View } from "../kit/drawing";
import { nudge } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { featureKinds, moved, newFeature, newFlaw } from "./marks";

/** What a drag or a key moves: a mark by its id, a node or a reading by its place in the list. */
export type Layer = "marks" | "nodes" | "readings";

interface Props {
  slab: Slab;
  wood: Wood;
  flipped: boolean;
  layer: Layer;
  tool: string;
  picked: string;
  ground?: Photo;
  onPick: (id: string) => void;
  onFlip: () => void;
  onDone: () => void;
  doc: Doc<Slab, Wood>;
  children: (view: View) => ReactNode;
}

/** lineOf is the list of nodes of the face that lies up. */
export const lineOf = (flipped: boolean): "outline" | "underOutline" => (flipped ? "underOutline" : "outline");

const half = (v: number) => Math.round(v * 2) / 2;
const shift = (p: Point, dx: number, dy: number): Point => ({ x: p.x + dx, y: p.y + dy });

export function PieceDrawing({
  slab,
  wood,
  flipped,
  layer,
  tool,
  picked,
  ground,
  onPick,
  onFlip,
  onDone,
  doc,
  children,
}: Props) {
  const { unit, length, switchUnits } = useWorkshop();
  const [mark, setMark] = useState<{ a: Point; b: Point } | null>(null); // for the eye
  const from = useRef<Point | null>(null); // for the hand, which may be quicker
  const drag = useRef<{ id: string; last: Point } | null>(null);
  const face = lineOf(flipped);
  const nodes = slab[face] ?? [];

  const move = (id: string, dx: number, dy: number) =>
    doc.set((s) => {
      const i = Number(id);
      if (layer === "nodes") return { ...s, [face]: (s[face] ?? []).map((p, k) => (k === i ? shift(p, dx, dy) : p)) };
      if (layer === "readings") return { ...s, readings: put(s.readings, i, shift(s.readings[i], dx, dy)) };
      return {
        ...s,
        flaws: s.flaws.map((f) => (f.id === id ? moved(f, dx, dy) : f)),
        ...(s.features ? { features: s.features.map((f) => (f.id === id ? moved(f, dx, dy) : f)) } : {}),
      };
    }, `move-${layer}-${id}`);
  const remove = () => {
    const i = Number(picked);
    doc.set((s) => {
      if (layer === "nodes") return { ...s, [face]: (s[face] ?? []).length > 3 ? cut(s[face] ?? [], i) : s[face] };
      if (layer === "readings") return { ...s, readings: s.readings.length > 1 ? cut(s.readings, i) : s.readings };
      return {
        ...s,
        flaws: s.flaws.filter((f) => f.id !== picked),
        ...(s.features ? { features: s.features.filter((f) => f.id !== picked) } : {}),
      };
    });
    onPick("");
  };
  const next = (by: number) => {
    const ids =
      layer === "nodes"
        ? nodes.map((_, i) => String(i))
        : layer === "readings"
          ? slab.readings.map((_, i) => String(i))
          : [...slab.flaws, ...(slab.features ?? [])].map((f) => f.id);
    if (ids.length > 0) onPick(ids[(ids.indexOf(picked) + by + ids.length) % ids.length]);
  };
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const up = flipped ? -1 : 1;
    const steps: Record<string, [number, number]> = {
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
      ArrowUp: [0, up * step],
      ArrowDown: [0, -up * step],
    };
    if (e.key in steps && picked !== "") move(picked, ...steps[e.key]);
    else if (e.key === "f") onFlip();
    else if (e.key === "u") switchUnits();
    else if (e.key === "[") next(-1);
    else if (e.key === "]") next(1);
    else if (e.key === "Escape") {
      onPick("");
      onDone();
    } else if ((e.key === "Delete" || e.key === "Backspace") && picked !== "") remove();
    else return;
    e.preventDefault();
  };
  const place = (a: Point, b: Point) => {
    if (tool === "reading") {
      const last = slab.readings.at(-1)?.thickness ?? 30;
      doc.set((s) => ({
        ...s,
        readings: [...s.readings, { x: half(Math.max(0, Math.min(s.length, a.x))), y: half(a.y), thickness: last }],
      }));
      onPick(String(slab.readings.length));
    } else if (tool in featureKinds) {
      const f = newFeature(tool, a, b, flipped);
      doc.set((s) => ({ ...s, features: [...(s.features ?? []), f] }));
      onPick(f.id);
    } else {
      const f = newFlaw(tool, a, b, flipped);
      doc.set((s) => ({ ...s, flaws: [...s.flaws, f] }));
      onPick(f.id);
    }
    onDone();
  };
  const attribute = layer === "marks" ? "data-flaw" : "data-grip";
  return (
    <WoodDrawing
      wood={wood}
      name={slab.name}
      marking={tool !== ""}
      flipped={flipped}
      selected={picked}
      ground={ground}
      label={`Drawing of ${slab.name}. Arrow keys move what is picked, [ and ] pick the one before or after.`}
      onKeyDown={onKeyDown}
      pointer={(view) => {
        const at = (e: PointerEvent<SVGSVGElement>) => {
          const box = e.currentTarget.getBoundingClientRect();
          return view.toSlab({ x: e.clientX - box.left, y: e.clientY - box.top });
        };
        return {
          onPointerDown: (e) => {
            const p = at(e);
            if (tool) {
              e.currentTarget.setPointerCapture(e.pointerId);
              from.current = p;
              setMark({ a: p, b: p });
              return;
            }
            const id = (e.target as Element).getAttribute(attribute);
            onPick(id ?? "");
            if (id) {
              e.currentTarget.setPointerCapture(e.pointerId);
              drag.current = { id, last: p };
            }
          },
          onPointerMove: (e) => {
            const p = at(e);
            if (from.current) setMark({ a: from.current, b: p });
            else if (drag.current) {
              move(drag.current.id, p.x - drag.current.last.x, p.y - drag.current.last.y);
              drag.current.last = p;
            }
          },
          onPointerUp: (e) => {
            if (from.current) place(from.current, at(e));
            from.current = null;
            setMark(null);
            drag.current = null;
            doc.settle();
          },
        };
      }}
    >
      {(view) => (
        <>
          {children(view)}
          {layer === "nodes" &&
            nodes.map((p, i) => <Grip key={i} at={view.toScreen(p)} id={String(i)} picked={picked === String(i)} />)}
          {slab.readings.map((r, i) => {
            const p = view.toScreen(r);
            const text = length(r.thickness);
            const wide = 6.2 * text.length + 8;
            return (
              <g
                key={i}
                className={`reading ${layer === "readings" ? "is-live" : ""} ${layer === "readings" && picked === String(i) ? "is-picked" : ""}`}
              >
                <rect
                  x={p.x - wide / 2}
                  y={p.y - 9}
                  width={wide}
                  height={17}
                  rx={3}
                  data-grip={layer === "readings" ? i : undefined}
                />
                <text x={p.x} y={p.y + 4}>
                  {text}
                </text>
              </g>
            );
          })}
          {mark && (
            <path
              className="marking"
              d={`M${view.toScreen(mark.a).x} ${view.toScreen(mark.a).y}L${view.toScreen(mark.b).x} ${view.toScreen(mark.b).y}`}
            />
          )}
        </>
      )}
    </WoodDrawing>
  );
}

/** Grip is a node that can be dragged; what a finger may miss is larger than what is seen. */
export function Grip({ at, id, picked }: { at: Point; id: string; picked: boolean }) {
  return (
    <>
      <circle className={`node ${picked ? "is-picked" : ""}`} cx={at.x} cy={at.y} r={picked ? 5.5 : 3.5} />
      <circle className="node-reach" cx={at.x} cy={at.y} r={11} data-grip={id} />
    </>
  );
}
