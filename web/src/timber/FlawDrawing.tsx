// The slab with its flaws, marked and moved by pointer and by keys.
import { useRef, useState, type KeyboardEvent, type ReactNode } from "react";
import type { Point, Slab, Wood } from "../api/client";
import type { Doc } from "../kit/document";
import { centreOf, WoodDrawing, type View } from "../kit/drawing";
import { nudge } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { moved, newFlaw } from "./Flaws";

interface Props {
  slab: Slab;
  wood: Wood;
  flipped: boolean;
  tool: string;
  picked: string;
  onPick: (id: string) => void;
  onFlip: () => void;
  onDone: () => void;
  doc: Doc<Slab, Wood>;
  children: (view: View) => ReactNode;
}

export function FlawDrawing({ slab, wood, flipped, tool, picked, onPick, onFlip, onDone, doc, children }: Props) {
  const { unit, switchUnits } = useWorkshop();
  const [mark, setMark] = useState<{ a: Point; b: Point } | null>(null); // for the eye
  const from = useRef<Point | null>(null); // for the hand, which may be quicker
  const drag = useRef<{ id: string; last: Point } | null>(null);
  const move = (id: string, dx: number, dy: number) => doc.set((s) => ({ ...s, flaws: s.flaws.map((f) => (f.id === id ? moved(f, dx, dy) : f)) }), `move-${id}`);
  const onKeyDown = (e: KeyboardEvent) => {
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const up = flipped ? -1 : 1;
    const steps: Record<string, [number, number]> = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, up * step], ArrowDown: [0, -up * step] };
    if (e.key in steps && picked) {
      e.preventDefault();
      move(picked, ...steps[e.key]);
    } else if (e.key === "f") onFlip();
    else if (e.key === "u") switchUnits();
    else if (e.key === "Escape") {
      onPick("");
      onDone();
    } else if ((e.key === "Delete" || e.key === "Backspace") && picked) {
      doc.set((s) => ({ ...s, flaws: s.flaws.filter((f) => f.id !== picked) }));
      onPick("");
    }
  };
  const chosen = slab.flaws.find((f) => f.id === picked);
  return (
    <WoodDrawing
      wood={wood}
      name={slab.name}
      marking={tool !== ""}
      flipped={flipped}
      selected={picked}
      label={`Drawing of ${slab.name}. Arrow keys move the picked flaw.`}
      onKeyDown={onKeyDown}
      pointer={(view) => {
        const at = (e: { clientX: number; clientY: number; currentTarget: Element }) => {
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
            const id = (e.target as Element).getAttribute("data-flaw");
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
            if (from.current) {
              const f = newFlaw(tool, from.current, at(e), flipped);
              doc.set((s) => ({ ...s, flaws: [...s.flaws, f] }));
              onPick(f.id);
              onDone();
            }
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
          {mark && <path className="marking" d={`M${view.toScreen(mark.a).x} ${view.toScreen(mark.a).y}L${view.toScreen(mark.b).x} ${view.toScreen(mark.b).y}`} />}
          {chosen && <circle className="grip" r={5} cx={view.toScreen(centreOf(chosen)).x} cy={view.toScreen(centreOf(chosen)).y} />}
        </>
      )}
    </WoodDrawing>
  );
}
