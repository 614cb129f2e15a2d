// Moving and turning the banks of a river, by pointer and by keys.
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Point, River, Slab, Wood } from "../../api/client";
import type { Doc } from "../../kit/document/useDocument";
import type { View } from "../../kit/drawing";
import { nudge } from "../../kit/length";
import { useWorkshop } from "../../kit/workshop";

export type Bank = River["banks"][number];
type At = Bank["at"];

interface Options {
  doc: Doc<Slab, Wood>;
  picked: string;
  onPick: (id: string) => void;
  onFlip: () => void;
  flipped: boolean;
}

const half = (v: number) => Math.round(v * 2) / 2;

export function useBanks({ doc: d, picked, onPick, onFlip, flipped }: Options) {
  const { unit, switchUnits } = useWorkshop();
  const drag = useRef<{ id: string; from: Point; at: At } | null>(null);
  const river = d.doc.river;
  const place = (id: string, change: (at: At) => Partial<At>, kind: string) =>
    d.set((s) => {
      if (!s.river) return s;
      const banks = s.river.banks.map((b) => (b.id === id ? { ...b, at: { ...b.at, ...change(b.at) } } : b));
      return { ...s, river: { ...s.river, banks } };
    }, kind);

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey || !river) return;
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const up = flipped ? -1 : 1;
    const i = river.banks.findIndex((b) => b.id === picked);
    const move = (change: (at: At) => Partial<At>, kind: string) => place(picked, change, kind);
    const keys: Record<string, () => void> = {
      ArrowLeft: () => move((at) => ({ x: at.x - step }), "nudge"),
      ArrowRight: () => move((at) => ({ x: at.x + step }), "nudge"),
      ArrowUp: () => move((at) => ({ y: at.y + up * step }), "nudge"),
      ArrowDown: () => move((at) => ({ y: at.y - up * step }), "nudge"),
      "[": () => move((at) => ({ angle: at.angle + 0.5 }), "turn"),
      "]": () => move((at) => ({ angle: at.angle - 0.5 }), "turn"),
      n: () => onPick(river.banks[(i + 1) % river.banks.length].id),
      f: onFlip,
      u: switchUnits,
    };
    if (!keys[e.key]) return;
    keys[e.key]();
    e.preventDefault();
  };

  const pointer = (view: View) => {
    const at = (e: PointerEvent<SVGSVGElement>) => {
      const box = e.currentTarget.getBoundingClientRect();
      return view.toSlab({ x: e.clientX - box.left, y: e.clientY - box.top });
    };
    return {
      onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
        const id = (e.target as Element).closest<SVGElement>("[data-bank]")?.dataset.bank;
        const bank = river?.banks.find((b) => b.id === id);
        if (!bank) return onPick("");
        onPick(bank.id);
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { id: bank.id, from: at(e), at: bank.at };
      },
      onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
        const g = drag.current;
        if (!g) return;
        const p = at(e);
        place(g.id, () => ({ x: half(g.at.x + p.x - g.from.x), y: half(g.at.y + p.y - g.from.y) }), "drag");
      },
      onPointerUp: () => {
        if (drag.current) d.settle();
        drag.current = null;
      },
    };
  };
  return { onKeyDown, pointer, place };
}
