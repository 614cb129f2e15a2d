// The slab with the boards on it; the open board is dragged, turned and nudged.
import Button from "react-bootstrap/Button";
import { useRef, type KeyboardEvent, type PointerEvent } from "react";
import type { Board, Point, Reckoned, Reckoning, Wood } from "../api/client";
import type { Doc } from "../kit/document/useDocument";
import { BoardShape, Dimension, FlipButton, transformOf, WoodDrawing, type View } from "../kit/drawing";
import { nudge } from "../kit/length";
import { stageOf, useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";
import { out, turnedBy } from "./frame";
import { OiledLook, OiledTold, SandedKey, SandedSurfaces, SandedTold } from "./SurfaceLayers";

interface Props {
  doc: Doc<Board, Reckoning>;
  others: Board[];
  slabName: string;
  flipped: boolean;
  stage: string;
  onFlip: () => void;
  onStage: (stage: string) => void;
  /** Shows the blank in section, or the card, instead; left out where there is none to show. */
  onSection?: () => void;
}

export function BoardDrawing({ doc: d, others, slabName, flipped, stage, onFlip, onStage, onSection }: Props) {
  const board = d.doc;
  const wood = d.result.slab!;
  const r = d.result.boards[0];
  const { onKeyDown, pointer, turn } = usePlacing({ doc: d, flipped, onFlip, onStage });

  const tools = (
    <div className="drawing-tools">
      <FlipButton flipped={flipped} onFlip={onFlip} />
      <Button size="sm" variant="outline-primary" onClick={() => turn(180)}>
        Turn end for end
      </Button>
      {onSection && (
        <Button size="sm" variant="outline-primary" onClick={onSection}>
          {stage === "give" ? "Its card" : "In section"}
        </Button>
      )}
      {stage === "sand" && <SandedKey />}
    </div>
  );
  const outlines = d.result.boards
    .map((b, i) => ({ reckoned: b, board: i === 0 ? board : others.find((o) => o.id === b.id)! }))
    .filter((o) => o.board);
  return (
    <div className="drawing-frame">
      {tools}
      <WoodDrawing
        wood={wood}
        name={slabName}
        flipped={flipped}
        label={`${board.name} on ${slabName}. Arrow keys nudge it, square brackets turn it, digits choose a stage.`}
        onKeyDown={onKeyDown}
        pointer={pointer}
        filled={Object.fromEntries(
          d.result.boards.flatMap((b) => b.voids.flatMap((v) => (v.tone ? [[v.flaw, v.tone]] : []))),
        )}
        clear={outlines.map((o) => (
          <path key={o.board.id} d={o.reckoned.path} transform={transformOf(o.board.placement)} />
        ))}
        boards={
          <>
            {stage === "layout" || stage === "flatten" ? (
              <path
                className="blank-line"
                vectorEffect="non-scaling-stroke"
                d={`M${r.blank.fromX} ${wood.minY}V${wood.maxY}M${r.blank.toX} ${wood.minY}V${wood.maxY}`}
              />
            ) : null}
            {d.result.taken.map((t) => (
              <path key={t.id} d={t.path} className="taken" vectorEffect="non-scaling-stroke">
                <title>{t.name}, cut out and given away</title>
              </path>
            ))}
            {outlines
              .slice()
              .reverse()
              .map((o) => (
                <BoardShape key={o.board.id} board={o.board} reckoned={o.reckoned} active={o.board.id === board.id} />
              ))}
            {stage === "sand" && <SandedSurfaces board={board} r={r} flipped={flipped} />}
            {stage === "finish" && <OiledLook board={board} r={r} />}
          </>
        }
      >
        {(view) => (
          <>
            <OnBoard board={board} r={r} view={view} />
            {stage === "fill" && <Voids board={board} r={r} wood={wood} view={view} />}
            {stage === "sand" && <SandedTold board={board} r={r} view={view} />}
            {stage === "finish" && <OiledTold board={board} r={r} view={view} flipped={flipped} />}
          </>
        )}
      </WoodDrawing>
    </div>
  );
}

interface PlacingOptions {
  doc: Doc<Board, Reckoning>;
  flipped: boolean;
  onFlip: () => void;
  onStage: (stage: string) => void;
}

/** usePlacing moves and turns the open board by pointer and by keys. */
function usePlacing({ doc: d, flipped, onFlip, onStage }: PlacingOptions) {
  const { unit, switchUnits } = useWorkshop();
  const { stages } = useStages();
  const drag = useRef<{ what: "move" | "turn"; start: Point; placement: Board["placement"] } | null>(null);
  const board = d.doc;
  const place = (change: Partial<Board["placement"]>, kind: string) =>
    d.set((b) => ({ ...b, placement: { ...b.placement, ...change } }), kind);
  const turn = (by: number) => place({ angle: turnedBy(board.placement.angle, by) }, "turn");

  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const step = nudge(unit) * (e.shiftKey ? 10 : 1);
    const up = flipped ? -1 : 1;
    const p = board.placement;
    const keys: Record<string, () => void> = {
      ArrowLeft: () => place({ x: p.x - step }, "nudge"),
      ArrowRight: () => place({ x: p.x + step }, "nudge"),
      ArrowUp: () => place({ y: p.y + up * step }, "nudge"),
      ArrowDown: () => place({ y: p.y - up * step }, "nudge"),
      "[": () => turn(1),
      "]": () => turn(-1),
      "{": () => turn(5),
      "}": () => turn(-5),
      r: () => turn(180),
      f: onFlip,
      u: switchUnits,
    };
    const digit = /^\d$/.test(e.key) && stageOf(stages, e.key);
    if (digit) onStage(digit);
    else if (keys[e.key]) keys[e.key]();
    else return;
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
        const turning = target.classList.contains("turn-grip");
        const grabbed = turning || target.closest(`[data-board="${board.id}"]`);
        if (!grabbed) return;
        e.currentTarget.setPointerCapture(e.pointerId);
        drag.current = { what: turning ? "turn" : "move", start: at(e), placement: board.placement };
      },
      onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
        const g = drag.current;
        if (!g) return;
        const p = at(e);
        if (g.what === "move") {
          place(
            {
              x: Math.round((g.placement.x + p.x - g.start.x) * 2) / 2,
              y: Math.round((g.placement.y + p.y - g.start.y) * 2) / 2,
            },
            "drag",
          );
          return;
        }
        const angle = (Math.atan2(p.y - g.placement.y, p.x - g.placement.x) * 180) / Math.PI;
        const near = Math.round(angle / 90) * 90; // felt along and across the grain
        place({ angle: Math.abs(angle - near) < 1.5 ? near : Math.round(angle * 2) / 2 }, "drag");
      },
      onPointerUp: () => {
        drag.current = null;
        d.settle();
      },
    };
  };
  return { onKeyDown, pointer, turn };
}

/** OnBoard are the dimensions, the grip that turns the board, and what is judged. */
function OnBoard({ board, r, view }: { board: Board; r: Reckoned; view: View }) {
  const { length } = useWorkshop();
  const [x0, y0, x1, y1] = r.box;
  const screen = (x: number, y: number) => view.toScreen(out(board.placement, { x, y }));
  const end = screen(x1, (y0 + y1) / 2);
  const grip = screen(x1 + 20 / view.scale, (y0 + y1) / 2);
  return (
    <>
      <Dimension from={screen(x0, y0)} to={screen(x1, y0)} text={length(x1 - x0)} off={14} />
      <Dimension from={screen(x0, y0)} to={screen(x0, y1)} text={length(y1 - y0)} off={-14} />
      <path className="turn-arm" d={`M${end.x} ${end.y}L${grip.x} ${grip.y}`} />
      <circle className="turn-grip" cx={grip.x} cy={grip.y} r={8}>
        <title>Drag to turn the board</title>
      </circle>
      {r.verdicts
        .filter((v) => v.mark && v.level !== "good")
        .map((v, i) => {
          const a = screen(v.mark!.ax, v.mark!.ay);
          const b = screen(v.mark!.bx, v.mark!.by);
          return <path key={i} className={`mark mark-${v.level}`} d={`M${a.x} ${a.y}L${b.x} ${b.y}`} />;
        })}
    </>
  );
}

/** Voids are numbered with what they hold, and marked where they run out or leaked in the dry run. */
function Voids({ board, r, wood, view }: { board: Board; r: Reckoned; wood: Wood; view: View }) {
  const { value } = useWorkshop();
  const screen = (p: Point) => view.toScreen(out(board.placement, p));
  const leaks = r.pourings?.[0]?.leaks ?? [];
  const gone = r.ends.flatMap((e) => {
    const f = wood.flaws.find((o) => o.id === e.flaw);
    return f && !r.voids.some((v) => v.flaw === e.flaw) ? [{ e, at: view.toScreen({ x: f.x, y: f.y }) }] : [];
  });
  return (
    <g className="voids">
      {gone.map(({ e, at }) => (
        <text key={e.flaw} className="void-told" x={at.x} y={at.y} textAnchor="middle" dominantBaseline="central">
          {e.end}
        </text>
      ))}
      {r.drawn.map((d, i) => {
        const at = screen(d.at);
        const v = r.voids[i];
        const low = i % 2 === 0 ? -18 : 30;
        return (
          <g key={d.void}>
            <circle className="void-spot" cx={at.x} cy={at.y} r={9} />
            <text className="void-digit" x={at.x} y={at.y} textAnchor="middle" dominantBaseline="central">
              {d.number}
            </text>
            <text className="void-told" x={at.x} y={at.y + low} textAnchor="middle">
              {value(v.volume, "ml")}, {v.through ? "through" : value(v.depth, "mm")}, {v.chosen}
            </text>
            {v.dam &&
              d.outs.map((p, k) => {
                const q = screen(p);
                return (
                  <rect key={k} className="void-dam" x={q.x - 6} y={q.y - 6} width={12} height={12}>
                    <title>{v.dam}</title>
                  </rect>
                );
              })}
          </g>
        );
      })}
      {leaks.map((p, i) => {
        const q = view.toScreen(p);
        return (
          <circle key={i} className="pour-leak" cx={q.x} cy={q.y} r={8}>
            <title>It leaked here in the dry run</title>
          </circle>
        );
      })}
    </g>
  );
}
