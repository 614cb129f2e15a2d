// The slab with all its boards, any of which is dragged, turned and nudged, and
// felt against edges, ends and neighbours.
import classNames from "classnames";
import { useMemo } from "react";
import type { Board, LaidOut, LayoutDoc, Placed, Point, SlabCut } from "../api/client";
import { out } from "../boards/frame";
import type { Doc } from "../kit/document/useDocument";
import { FlipButton, pen, transformOf, WoodDrawing, type View } from "../kit/drawing";
import { Tick } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import type { Asking } from "./asking";
import { useLaying } from "./useLaying";

const keys = "Comma and point pick a board, arrow keys nudge it, square brackets turn it.";

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
  const boards = d.doc;
  const board = boards.find((b) => b.id === picked);
  const paths = useMemo(() => new Map(d.result.boards.map((b) => [b.id, b])), [d.result]);
  const { onKeyDown, pointer, felt } = useLaying({
    layout,
    doc: d,
    paths,
    picked,
    onPick,
    flipped,
    onFlip,
    snapping,
    asking,
    onSpot,
  });
  return (
    <div className="drawing-frame">
      <div className="drawing-tools">
        <FlipButton flipped={flipped} onFlip={onFlip} />
        <Tick label="felt at edges, ends and neighbours" value={snapping} onChange={onSnapping} />
        <span className="hint" role="status">
          {hintOf(asking, felt, board)}
        </span>
      </div>
      <WoodDrawing
        wood={layout.wood}
        name={layout.name}
        flipped={flipped}
        ground={flipped ? layout.underGround : layout.showGround}
        label={`The boards on ${layout.name}. ${keys}`}
        onKeyDown={onKeyDown}
        pointer={pointer}
        marking={asking.what !== ""}
        clear={boards.map(
          (b) => paths.has(b.id) && <path key={b.id} d={paths.get(b.id)!.path} transform={transformOf(b.placement)} />,
        )}
        boards={<Laid layout={layout} boards={boards} paths={paths} picked={picked} shown={shown} cuts={cuts} />}
      >
        {(view) => (
          <Labels
            boards={boards}
            board={board}
            cuts={cuts}
            spot={spot}
            box={board && paths.get(board.id)?.box}
            view={view}
          />
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

type Paths = Map<string, LaidOut["boards"][number]>;

/** hintOf tells what a press does, and what is felt. */
function hintOf(asking: Asking, felt: string, board: Board | undefined): string {
  if (asking.what === "swap") return "Press the board to change places with.";
  if (asking.what === "spot") return "Press the spot on the wood.";
  if (felt) return `At ${felt}`;
  return board ? board.name : "Press a board to pick it.";
}

interface LaidProps {
  layout: LayoutDoc;
  boards: Board[];
  paths: Paths;
  picked: string;
  shown: Props["shown"];
  cuts: SlabCut[];
}

/** Laid are the boards on the wood, what is taken, what is proposed, and the cuts through it. */
function Laid({ layout, boards, paths, picked, shown, cuts }: LaidProps) {
  return (
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
            className={classNames("board is-laid", `board-${on.level}`, {
              "is-active": b.id === picked,
              "is-locked": b.locked,
            })}
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
  );
}

interface LabelsProps {
  boards: Board[];
  board?: Board;
  cuts: SlabCut[];
  spot: Point | null;
  /** Of the board that is picked. */
  box?: number[];
  view: View;
}

/** Labels are the numbers of boards and cuts, and what the picked board is turned by. */
function Labels({ boards, board, cuts, spot, box, view }: LabelsProps) {
  const { length } = useWorkshop();
  return (
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
      {board && box && !board.locked && <TurnGrip board={board} box={box} view={view} />}
      {box && (
        <text className="hint-size" x={8} y={view.height - 8}>
          {sizeOf(box, length)}
        </text>
      )}
    </>
  );
}
