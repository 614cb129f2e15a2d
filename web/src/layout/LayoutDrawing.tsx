// The slab with all its boards, any of which is dragged, turned and nudged, and
// felt against edges, ends and neighbours.
import { useMemo, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import type { Board, LaidOut, LayoutDoc, Placed, Point, SlabCut } from "../api/client";
import { out, turnedBy } from "../boards/frame";
import type { Doc } from "../kit/document/useDocument";
import { FlipButton, pen, transformOf, WoodDrawing, type View } from "../kit/drawing";
import { Tick } from "../kit/fields";
import { nudge } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import type { Asking } from "./Layout";
import { together } from "./sets";
import { snap, square, type SnapGround } from "./snap";

interface Props {
  layout: LayoutDoc;
  doc: Doc<Board[], LaidOut>;
  picked: string;
  onPick: (id: string) => void;
  flipped: boolean;
  onFlip: () => void;
  snapping: boolean;
  onSnapping: (on: boolean) => void;
  asking: Asking;
  spot: Point | null;
  onSpot: (p: Point) => void;
  cuts: SlabCut[];
  /** Boards that are shown on the wood, and do not lie there. */
  shown: Pick<Placed, "path" | "holes" | "placement">[];
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

export function LayoutDrawing({
  layout,
  doc: d,
  picked,
  onPick,
  flipped,
  onFlip,
  snapping,
  onSnapping,
  asking,
  spot,
  onSpot,
  cuts,
  shown,
}: Props) {
  const { unit, length, switchUnits } = useWorkshop();
  const drag = useRef<{
    what: "move" | "turn";
    start: Point;
    placements: Map<string, Board["placement"]>;
    id: string;
    ground: SnapGround;
  } | null>(null);
  const [felt, feel] = useState("");
  const boards = d.doc;
  const board = boards.find((b) => b.id === picked);
  const wood = layout.wood;
  const paths = useMemo(() => new Map(d.result.boards.map((b) => [b.id, b])), [d.result]);
  const place = (ids: Set<string>, change: (p: Board["placement"], id: string) => Board["placement"], kind: string) =>
    d.set(
      (now) => now.map((b) => (ids.has(b.id) && !b.locked ? { ...b, placement: change(b.placement, b.id) } : b)),
      kind,
    );
  const moving = (id: string) => together(boards, id);

  const groundOf = (id: string): SnapGround => {
    const ids = moving(id);
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
  };
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
          ground: groundOf(id),
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
          moving(g.id),
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

  return (
    <div className="drawing-frame">
      <div className="drawing-tools">
        <FlipButton flipped={flipped} onFlip={onFlip} />
        <Tick label="felt at edges, ends and neighbours" value={snapping} onChange={onSnapping} />
        <span className="hint" role="status">
          {asking.what === "swap"
            ? "Press the board to change places with."
            : asking.what === "spot"
              ? "Press the spot on the wood."
              : felt
                ? `At ${felt}`
                : board
                  ? board.name
                  : "Press a board to pick it."}
        </span>
      </div>
      <WoodDrawing
        wood={wood}
        name={layout.name}
        flipped={flipped}
        ground={flipped ? layout.underGround : layout.showGround}
        label={`The boards on ${layout.name}. Comma and point pick a board, arrow keys nudge it, square brackets turn it.`}
        onKeyDown={onKeyDown}
        pointer={pointer}
        marking={asking.what !== ""}
        clear={boards.map(
          (b) => paths.has(b.id) && <path key={b.id} d={paths.get(b.id)!.path} transform={transformOf(b.placement)} />,
        )}
        boards={
          <>
            {layout.taken.map((t) => (
              <path key={t.id} d={t.path} className="taken" {...pen} />
            ))}
            {boards.map((b) => {
              const on = paths.get(b.id);
              if (!on) return null;
              return (
                <g
                  key={b.id}
                  transform={transformOf(b.placement)}
                  className={`board board-${on.level} is-laid ${b.id === picked ? "is-active" : ""} ${b.locked ? "is-locked" : ""}`}
                  data-board={b.id}
                >
                  <path d={on.path} className="board-line" {...pen} />
                  {on.holes.map((h, i) => (
                    <path key={i} d={h} className="board-hole" {...pen} />
                  ))}
                </g>
              );
            })}
            {shown.map((b, i) => (
              <path
                key={i}
                d={[b.path, ...b.holes].join("")}
                transform={transformOf(b.placement)}
                className="proposed"
                fillRule="evenodd"
                {...pen}
              />
            ))}
            {cuts
              .filter((c) => c.kind === "cross-cut" || c.kind === "rip")
              .map((c) => (
                <path
                  key={c.number}
                  className={`cut-through cut-${c.level}`}
                  d={`M${c.a.x} ${c.a.y}L${c.b.x} ${c.b.y}`}
                  {...pen}
                />
              ))}
          </>
        }
      >
        {(view) => (
          <>
            {boards.map((b) => {
              const q = view.toScreen(b.placement);
              return (
                <text key={b.id} className="board-name" x={q.x} y={q.y}>
                  {b.locked ? "⚿ " : ""}
                  {boards.indexOf(b) + 1}
                </text>
              );
            })}
            {cuts.map((c) => {
              const straight = c.kind === "cross-cut" || c.kind === "rip";
              const q = view.toScreen(straight ? (c.kind === "rip" ? c.a : c.b) : c.a);
              return (
                straight && (
                  <g key={c.number} className="cut-number">
                    <circle cx={q.x + (c.kind === "rip" ? 10 : 0)} cy={q.y - (c.kind === "rip" ? 0 : 10)} r={9} />
                    <text x={q.x + (c.kind === "rip" ? 10 : 0)} y={q.y - (c.kind === "rip" ? 0 : 10)}>
                      {c.number}
                    </text>
                  </g>
                )
              );
            })}
            {spot && (
              <circle className="spot-mark" cx={view.toScreen(spot).x} cy={view.toScreen(spot).y} r={6}>
                <title>The spot</title>
              </circle>
            )}
            {board && !board.locked && paths.has(board.id) && (
              <TurnGrip board={board} box={paths.get(board.id)!.box} view={view} />
            )}
            {board && paths.has(board.id) && (
              <text className="hint-size" x={8} y={view.height - 8}>
                {sizeOf(paths.get(board.id)!.box, length)}
              </text>
            )}
          </>
        )}
      </WoodDrawing>
    </div>
  );
}

function sizeOf([x0, y0, x1, y1]: number[], length: (mm: number) => string): string {
  return `${length(x1 - x0)} × ${length(y1 - y0)}`;
}

function TurnGrip({ board, box: [, y0, x1, y1], view }: { board: Board; box: number[]; view: View }) {
  const screen = (x: number, y: number) => view.toScreen(out(board.placement, { x, y }));
  const end = screen(x1, (y0 + y1) / 2);
  const grip = screen(x1 + 20 / view.scale, (y0 + y1) / 2);
  return (
    <>
      <path className="turn-arm" d={`M${end.x} ${end.y}L${grip.x} ${grip.y}`} />
      <circle className="turn-grip" cx={grip.x} cy={grip.y} r={8}>
        <title>Drag to turn the board</title>
      </circle>
    </>
  );
}

/** apartOf is what must lie between a board and its neighbours, mm. */
export const apartOf = (layout: LayoutDoc, b: Board): number => layout.apart[b.cut.saw] ?? 3;
