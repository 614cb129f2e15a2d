// Grips that are dragged by the pointer, or picked and moved by keys.
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import { flushSync } from "react-dom";
import type { Board, Grip, Point, Reckoning } from "../../api/client";
import { betweenFrames, type Doc } from "../../kit/document/useDocument";
import { nudge as nudgeStep } from "../../kit/length";
import { stageOf, useStages } from "../../kit/stick";
import { useWorkshop } from "../../kit/workshop";
import type { Lead } from "./Grips";
import { drag, lineGrips, nudge } from "./grips";
import { withoutNode, type Shaping } from "./lines";
import type { View } from "./view";

const acrossKey = "line";
const followEvery = 50; // ms

interface Options {
  doc: Doc<Board, Reckoning>;
  shaping: Shaping;
  grips: Grip[];
  view: View;
  /** Keeps the view of a box while something is dragged; null lets it go. */
  holdStill: (box: number[] | null) => void;
  onFlip: () => void;
  onStage: (stage: string) => void;
}

/** gripsOf lists the grips of the part of the shape that is open. */
export function gripsOf({ part, line }: Shaping, all: Grip[]): Grip[] {
  return part === "set" ? lineGrips(line, acrossKey) : all.filter((g) => g.part === part);
}

/** useGrips moves what is gripped: at once on the drawing, and in the document a few times a second. */
export function useGrips({ doc: d, shaping, grips, view, holdStill, onFlip, onStage }: Options) {
  const { unit, switchUnits } = useWorkshop();
  const { stages } = useStages();
  const { picked, pick, setLine, onDragging } = shaping;
  const held = useRef<{ key: string; off: Point; box: DOMRect } | null>(null);
  const lead = useRef<Lead>(() => {});
  const follow = useRef({ timer: 0, go: () => {} });

  const change = (g: Grip, by: <T>(doc: T) => T, kind: string) => {
    if (g.key.startsWith(`${acrossKey}-`)) setLine((line) => by(line));
    else d.set((b) => ({ ...b, design: by(b.design) }), kind);
  };

  const pointAt = (e: PointerEvent<SVGSVGElement>, box: DOMRect): Point =>
    view.toBoard({ x: e.clientX - box.left, y: e.clientY - box.top });
  const release = () => {
    if (!held.current) return;
    window.clearTimeout(follow.current.timer);
    held.current = null;
    follow.current.go();
    lead.current(null);
    holdStill(null);
    onDragging(false);
    d.settle();
  };
  const pointer = {
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      const key = (e.target as Element).getAttribute("data-grip");
      const g = grips.find((o) => o.key === key);
      pick(key ?? "");
      if (!g) return;
      // Asked once: while dragging, the page would be laid out again at every move.
      const box = e.currentTarget.getBoundingClientRect();
      const p = pointAt(e, box);
      e.currentTarget.setPointerCapture(e.pointerId);
      held.current = { key: g.key, off: { x: g.at.x - p.x, y: g.at.y - p.y }, box };
      holdStill(d.result.boards[0].box);
      onDragging(true);
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      if (!held.current) return;
      const { key, off, box } = held.current;
      const grip = grips.find((o) => o.key === key); // as of the newest answer
      if (!grip) return;
      const p = pointAt(e, box);
      const to = { x: p.x + off.x, y: p.y + off.y };
      // At once: an answer that comes in waits for the hand, not the hand for it.
      flushSync(() => lead.current({ grip, to }));
      follow.current.go = () => {
        follow.current = { timer: 0, go: () => {} };
        change(grip, (doc) => drag(doc, grip, to), "drag");
      };
      follow.current.timer ||= window.setTimeout(() => betweenFrames(() => follow.current.go()), followEvery);
    },
    onPointerUp: release,
    onPointerCancel: release,
  };

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const step = nudgeStep(unit) * (e.shiftKey ? 10 : 1);
    const g = grips.find((o) => o.key === picked);
    const next = (by: number) => {
      const i = grips.findIndex((o) => o.key === picked);
      if (grips.length > 0) pick(grips[(i + by + grips.length) % grips.length].key);
    };
    const move = (x: number, y: number) => {
      if (g) change(g, (doc) => nudge(doc, g, { x, y: -view.up * y }), `nudge-${g.key}`);
    };
    const remove = () => {
      if (!g?.remove) return;
      d.set((b) => ({ ...b, design: { ...b.design, ...withoutNode(b.design, picked) } }));
      pick("");
    };
    const keys: Record<string, () => void> = {
      ArrowLeft: () => move(-step, 0),
      ArrowRight: () => move(step, 0),
      ArrowUp: () => move(0, step),
      ArrowDown: () => move(0, -step),
      "[": () => next(-1),
      "]": () => next(1),
      Escape: () => pick(""),
      Delete: remove,
      f: onFlip,
      u: switchUnits,
    };
    const digit = /^\d$/.test(e.key) && stageOf(stages, e.key);
    if (digit) onStage(digit);
    else if (keys[e.key]) keys[e.key]();
    else return;
    e.preventDefault();
  };
  return { pointer, onKeyDown, lead };
}
