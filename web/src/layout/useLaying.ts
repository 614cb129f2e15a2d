// Boards that are picked, dragged, turned and nudged on the wood, and felt
// against edges, ends and neighbours.
import { useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Board, LaidOut, LayoutDoc, Point } from "../api/client";
import { out, turnedBy } from "../boards/frame";
import type { Doc } from "../kit/document/useDocument";
import type { View } from "../kit/drawing";
import { nudge } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import type { Asking } from "./asking";
import { together } from "./sets";
import { snap, square, type SnapGround } from "./snap";

type Paths = Map<string, LaidOut["boards"][number]>;

interface Options {
  layout: LayoutDoc;
  doc: Doc<Board[], LaidOut>;
  paths: Paths;
  picked: string;
  onPick: (id: string) => void;
  flipped: boolean;
  onFlip: () => void;
  snapping: boolean;
  asking: Asking;
  onSpot: (p: Point) => void;
}

type Place = (
  ids: Set<string>,
  change: (p: Board["placement"], id: string) => Board["placement"],
  kind: string,
) => void;

/** placer moves those boards that are not locked. */
const placer =
  (d: Doc<Board[], LaidOut>): Place =>
  (ids, change, kind) =>
    d.set(
      (now) => now.map((b) => (ids.has(b.id) && !b.locked ? { ...b, placement: change(b.placement, b.id) } : b)),
      kind,
    );

/** useLaying gives what the drawing does with keys and the pointer, and what is felt. */
export function useLaying(o: Options) {
  const { layout, doc: d, paths, picked, onPick, snapping, asking, onSpot } = o;
  const drag = useRef<{
    what: "move" | "turn";
    start: Point;
    placements: Map<string, Board["placement"]>;
    id: string;
    ground: SnapGround;
  } | null>(null);
  const [felt, feel] = useState("");
  const boards = d.doc;
  const place = placer(d);
  const onKeyDown = useLayKeys(o);
  const pointer = (view: View) => {
    const at = (e: PointerEvent<SVGSVGElement>) => {
      const box = e.currentTarget.getBoundingClientRect();
      return view.toSlab({ x: e.clientX - box.left, y: e.clientY - box.top });
    };
    return {
      onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
        const target = e.target as Element;
        if (asking.what === "spot") return onSpot(at(e));
        const turning = target.classList.contains("turn-grip");
        const id = turning ? picked : (target.closest("[data-board]")?.getAttribute("data-board") ?? "");
        if (!id) return;
        onPick(id);
        if (asking.what === "swap" || boards.find((b) => b.id === id)?.locked) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = {
          what: turning ? "turn" : "move",
          start: at(e),
          id,
          placements: new Map(boards.map((b) => [b.id, b.placement])),
          ground: groundOf(id, boards, layout, paths),
        };
      },
      onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
        const g = drag.current;
        if (!g) return;
        const p = at(e);
        const was = g.placements.get(g.id)!;
        const free = !snapping || e.altKey;
        if (g.what === "turn") {
          const angle = (Math.atan2(p.y - was.y, p.x - was.x) * 180) / Math.PI;
          const to = free
            ? { placement: { ...was, angle: Math.round(angle * 2) / 2 }, felt: "" }
            : square({ ...was, angle: Math.round(angle * 2) / 2 }, g.ground.wood, 1.5);
          feel(to.felt);
          return place(new Set([g.id]), () => to.placement, "drag");
        }
        const wanted = {
          ...was,
          x: Math.round((was.x + p.x - g.start.x) * 2) / 2,
          y: Math.round((was.y + p.y - g.start.y) * 2) / 2,
        };
        const path = paths.get(g.id);
        const to =
          free || !path ? { placement: wanted, felt: "" } : snap(wanted, pointsOf(path.path), g.ground, 8 / view.scale);
        if (to.felt && to.felt !== felt) navigator.vibrate?.(8);
        feel(to.felt);
        const by = { x: to.placement.x - was.x, y: to.placement.y - was.y };
        place(
          together(boards, g.id),
          (_, id) => ({
            ...g.placements.get(id)!,
            x: g.placements.get(id)!.x + by.x,
            y: g.placements.get(id)!.y + by.y,
          }),
          "drag",
        );
      },
      onPointerUp: () => {
        drag.current = null;
        feel("");
        d.settle();
      },
    };
  };
  return { onKeyDown, pointer, felt };
}

/** useLayKeys picks, nudges and turns by keys. */
function useLayKeys({ doc: d, picked, onPick, flipped, onFlip }: Options) {
  const { unit, switchUnits } = useWorkshop();
  const boards = d.doc;
  const place = placer(d);
  const moving = (id: string) => together(boards, id);
  const turn = (by: number) =>
    picked && place(new Set([picked]), (p) => ({ ...p, angle: turnedBy(p.angle, by) }), "turn");
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const up = flipped ? -1 : 1;
    const by = (x: number, y: number) =>
      picked && place(moving(picked), (p) => ({ ...p, x: p.x + x, y: p.y + y }), "nudge");
    const next = (n: number) =>
      boards.length > 0 &&
      onPick(boards[(boards.findIndex((b) => b.id === picked) + n + boards.length) % boards.length].id);
    const keys: Record<string, () => void> = {
      ArrowLeft: () => by(-step, 0),
      ArrowRight: () => by(step, 0),
      ArrowUp: () => by(0, up * step),
      ArrowDown: () => by(0, -up * step),
      "[": () => turn(1),
      "]": () => turn(-1),
      "{": () => turn(5),
      "}": () => turn(-5),
      r: () => turn(180),
      ",": () => next(-1),
      ".": () => next(1),
      f: onFlip,
      u: switchUnits,
    };
    if (!keys[e.key]) return;
    keys[e.key]();
    e.preventDefault();
  };
  return onKeyDown;
}

/** groundOf is what a board is felt against: the wood, its ends, and its neighbours. */
function groundOf(id: string, boards: Board[], layout: LayoutDoc, paths: Paths): SnapGround {
  const wood = layout.wood;
  const ids = together(boards, id);
  const me = boards.find((b) => b.id === id)!;
  return {
    wood: pointsOf(wood.usable),
    from: layout.squaring,
    to: wood.length - layout.squaring,
    others: boards
      .filter((b) => !ids.has(b.id) && paths.has(b.id))
      .map((b) => ({
        apart: Math.max(apartOf(layout, me), apartOf(layout, b)),
        points: pointsOf(paths.get(b.id)!.path).map((p) => out(b.placement, p)),
        placement: b.placement,
        twin:
          b.design.length === me.design.length &&
          b.design.width === me.design.width &&
          b.design.shape === me.design.shape,
      })),
  };
}

/** pointsOf are points along a path, as drawn; kept, since a path is asked for at every move. */
const sampled = new Map<string, Point[]>();
function pointsOf(d: string): Point[] {
  let points = sampled.get(d);
  if (!points) {
    const path = document.createElementNS("http://www.w3.org/2000/svg", "path");
    path.setAttribute("d", d);
    const length = path.getTotalLength();
    const n = 90;
    points = Array.from({ length: n }, (_, i) => path.getPointAtLength((length * i) / n)).map((p) => ({
      x: p.x,
      y: p.y,
    }));
    if (sampled.size > 400) sampled.clear();
    sampled.set(d, points);
  }
  return points;
}

/** apartOf is what must lie between a board and its neighbours, mm. */
const apartOf = (layout: LayoutDoc, b: Board): number => (b.cut.trim ? layout.trimmed : layout.apart)[b.cut.saw] ?? 0;
