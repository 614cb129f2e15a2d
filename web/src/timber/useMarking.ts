// Marks, nodes and readings that are placed and moved by pointer and by keys.
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Point, Slab, Wood } from "../api/client";
import type { Doc } from "../kit/document/useDocument";
import type { View } from "../kit/drawing";
import { cut, put } from "../kit/items";
import { nudge } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { moved, newFeature, newFlaw } from "./marks";
import { dragged, type Placed } from "./place";

/** What a drag or a key moves: a mark by its id, a node or a reading by its place in the list. */
export type Layer = "marks" | "nodes" | "readings";

/** lineOf is the list of nodes of the face that lies up. */
export const lineOf = (flipped: boolean): "outline" | "underOutline" => (flipped ? "underOutline" : "outline");

const half = (v: number) => Math.round(v * 2) / 2;
const shift = (p: Point, dx: number, dy: number): Point => ({ x: p.x + dx, y: p.y + dy });

interface Options {
  slab: Slab;
  flipped: boolean;
  layer: Layer;
  /** What is marked next; nothing while what is there is moved. */
  tool: string;
  picked: string;
  onPick: (id: string) => void;
  onFlip: () => void;
  onDone: () => void;
  doc: Doc<Slab, Wood>;
}

/** useMarking gives what the drawing does with keys and the pointer, and the mark that is being drawn. */
export function useMarking(o: Options) {
  const { layer, tool, onPick, doc } = o;
  const [mark, setMark] = useState<{ a: Point; b: Point } | null>(null); // for the eye
  const from = useRef<Point | null>(null); // for the hand, which may be quicker
  const drag = useRef<{ id: string; handle?: number; last: Point } | null>(null);
  const move = mover(o);
  const reshape = useReshaper(o);
  const place = usePlacer(o);
  const onKeyDown = useMarkKeys(o);
  const attribute = layer === "marks" ? "data-flaw" : "data-grip";
  const pointer = (view: View) => {
    const at = (e: PointerEvent<SVGSVGElement>) => {
      const box = e.currentTarget.getBoundingClientRect();
      return view.toSlab({ x: e.clientX - box.left, y: e.clientY - box.top });
    };
    return {
      onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
        const p = at(e);
        if (tool) {
          e.currentTarget.setPointerCapture(e.pointerId);
          from.current = p;
          setMark({ a: p, b: p });
          return;
        }
        const on = e.target as Element;
        const handle = layer === "marks" ? on.getAttribute("data-grip") : null;
        const id = handle ? o.picked : on.getAttribute(attribute);
        if (!handle) onPick(id ?? "");
        if (id) {
          e.currentTarget.setPointerCapture(e.pointerId);
          drag.current = { id, last: p, ...(handle ? { handle: Number(handle) } : {}) };
        }
      },
      onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
        const p = at(e);
        if (from.current) setMark({ a: from.current, b: p });
        else if (drag.current?.handle !== undefined) reshape(drag.current.id, drag.current.handle, p);
        else if (drag.current) {
          move(drag.current.id, p.x - drag.current.last.x, p.y - drag.current.last.y);
          drag.current.last = p;
        }
      },
      onPointerUp: (e: PointerEvent<SVGSVGElement>) => {
        if (from.current) place(from.current, at(e));
        from.current = null;
        setMark(null);
        drag.current = null;
        doc.settle();
      },
    };
  };
  return { onKeyDown, pointer, mark };
}

/** mover moves what an id names. */
function mover({ flipped, layer, doc }: Options) {
  const face = lineOf(flipped);
  return (id: string, dx: number, dy: number) =>
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
}

/** useReshaper brings a handle of a mark to a point. */
function useReshaper({ doc }: Options) {
  const drawnAs = useDrawn();
  return (id: string, handle: number, to: Point) => {
    const reshaped = <T extends Placed & { id: string; kind: string }>(m: T): T => {
      const drawn = drawnAs(m.kind);
      return m.id === id && drawn ? { ...m, ...dragged(m, drawn, handle, to) } : m;
    };
    doc.set(
      (s) => ({
        ...s,
        flaws: s.flaws.map(reshaped),
        ...(s.features ? { features: s.features.map(reshaped) } : {}),
      }),
      `reshape-${id}-${handle}`,
    );
  };
}

/** useDrawn tells how a kind of mark is drawn. */
export function useDrawn() {
  const { tables } = useWorkshop();
  return (kind: string) => [...tables.flaws, ...tables.features].find((m) => m.kind === kind)?.drawn;
}

/** usePlacer places what is marked next, from one point to another. */
function usePlacer({ slab, flipped, tool, onPick, onDone, doc }: Options) {
  const { tables } = useWorkshop();
  const flaw = tables.flaws.find((m) => m.kind === tool);
  const feature = tables.features.find((m) => m.kind === tool);
  return (a: Point, b: Point) => {
    if (tool === "reading") {
      const last = slab.readings.at(-1)?.thickness ?? 30;
      doc.set((s) => ({
        ...s,
        readings: [...s.readings, { x: half(Math.max(0, Math.min(s.length, a.x))), y: half(a.y), thickness: last }],
      }));
      onPick(String(slab.readings.length));
    } else if (feature) {
      const f = newFeature(feature, a, b, flipped);
      doc.set((s) => ({ ...s, features: [...(s.features ?? []), f] }));
      onPick(f.id);
    } else if (flaw) {
      const f = newFlaw(flaw, a, b, flipped);
      doc.set((s) => ({ ...s, flaws: [...s.flaws, f] }));
      onPick(f.id);
    }
    onDone();
  };
}

/** useMarkKeys moves, picks and removes by keys. */
function useMarkKeys(o: Options) {
  const { slab, flipped, layer, picked, onPick, onFlip, onDone, doc } = o;
  const { unit, switchUnits } = useWorkshop();
  const face = lineOf(flipped);
  const nodes = slab[face] ?? [];
  const move = mover(o);
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
  return onKeyDown;
}
