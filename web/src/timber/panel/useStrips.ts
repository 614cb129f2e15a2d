// Strips that are picked and laid elsewhere by pointer and by keys.
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Panel, Slab, Wood } from "../../api/client";
import type { Doc } from "../../kit/document/useDocument";
import { useWorkshop } from "../../kit/workshop";
import { changed, doubled, moved, without } from "./strips";

interface Options {
  doc: Doc<Slab, Wood>;
  picked: string;
  onPick: (id: string) => void;
  onFlip: () => void;
  /** Strips may be dragged: they are drawn as they lie. */
  live: boolean;
}

/** useStrips gives what the drawing of a panel does with keys and the pointer. */
export function useStrips({ doc, picked, onPick, onFlip, live }: Options) {
  const { switchUnits } = useWorkshop();
  const drag = useRef("");
  const edit = (change: (p: Panel) => Panel, step: string) =>
    doc.set((s) => (s.glue ? { ...s, glue: change(s.glue) } : s), step);
  const placeOf = (p: Panel, id: string) => p.strips.findIndex((s) => s.id === id);
  const move = (id: string, to: (at: number) => number) =>
    edit((p) => {
      const at = placeOf(p, id);
      return { ...p, strips: moved(p.strips, at, to(at)) };
    }, `order-${id}`);

  const pointer = () => {
    // The strip that lies under the pointer, whatever is drawn over it.
    const under = (e: PointerEvent<SVGSVGElement>) =>
      document
        .elementsFromPoint(e.clientX, e.clientY)
        .map((o) => o.getAttribute("data-strip"))
        .find((id) => id !== null);
    return {
      onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
        const id = under(e) ?? "";
        onPick(id);
        if (!id || !live) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = id;
      },
      onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
        const over = drag.current ? under(e) : undefined;
        const p = doc.doc.glue;
        if (!over || over === drag.current || !p) return;
        const to = placeOf(p, over);
        move(drag.current, () => to);
      },
      onPointerUp: () => {
        drag.current = "";
        doc.settle();
      },
    };
  };

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const p = doc.doc.glue;
    if (!p) return;
    const at = placeOf(p, picked);
    const next = (by: number) => {
      const n = p.strips.length;
      onPick(p.strips[at < 0 ? 0 : (at + by + n) % n].id);
    };
    const toggle = (key: "turned" | "flipped", step: string) =>
      edit((q) => {
        const i = placeOf(q, picked);
        return i < 0 ? q : changed(q, i, { [key]: !q.strips[i][key] });
      }, `${step}-${picked}`);
    const does: Record<string, () => void> = {
      "[": () => next(-1),
      "]": () => next(1),
      f: onFlip,
      u: switchUnits,
      Escape: () => onPick(""),
    };
    if (at >= 0)
      Object.assign(does, {
        ArrowUp: () => move(picked, (i) => i - 1),
        ArrowDown: () => move(picked, (i) => i + 1),
        t: () => toggle("turned", "turn"),
        r: () => toggle("flipped", "roll"),
        d: () => edit((q) => doubled(q, placeOf(q, picked)), `double-${picked}`),
        Delete: () => {
          edit((q) => without(q, placeOf(q, picked)), `out-${picked}`);
          onPick("");
        },
      });
    const act = does[e.key];
    if (!act) return;
    act();
    e.preventDefault();
  };
  return { pointer, onKeyDown, edit };
}
