// The board alone, true to size, drawn as the wood that it is cut from: its
// grips are dragged, or picked and moved by keys.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Board, Photo, Point, Reckoned, Reckoning } from "../../api/client";
import type { Doc } from "../../kit/document/useDocument";
import { Dimension, useSize } from "../../kit/drawing";
import { Tick } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import { gripsOf, useGrips } from "./dragging";
import { Grips } from "./Grips";
import type { Shaping } from "./lines";
import { ShapeLines, Waste, type Overlays } from "./ShapeLines";
import { ShapeMarks } from "./ShapeMarks";
import { ShapeWood } from "./ShapeWood";
import { viewOf } from "./view";

const keys = "Square brackets pick a grip, arrow keys move it, digits choose a stage.";

interface Props {
  doc: Doc<Board, Reckoning>;
  shaping: Shaping;
  slabName: string;
  flipped: boolean;
  onFlip: () => void;
  onStage: (stage: string) => void;
  ground?: Photo;
}

export function ShapeDrawing({ doc: d, shaping, slabName, flipped, onFlip, onStage, ground }: Props) {
  const [over, setOver] = useState<Overlays>({ cut: true, mirror: false, grain: false });
  const [ref, size] = useSize();
  const board = d.doc;
  const wood = d.result.slab!;
  const r = d.result.boards[0];
  const grips = gripsOf(shaping, r.shape.grips);
  const [still, holdStill] = useState<number[] | null>(null);
  const view = viewOf(still ?? r.box, size, flipped);
  const { pointer, onKeyDown, lead } = useGrips({ doc: d, shaping, grips, view, holdStill, onFlip, onStage });
  const half = board.design.half && shaping.part === "outline" ? (board.design.nodes ?? []) : [];
  return (
    <div className="drawing-frame shape-frame">
      <div className="drawing-tools">
        <Button size="sm" variant="outline-primary" onClick={onFlip}>
          {flipped ? "Turn to its show face" : "Turn to its under face"}
        </Button>
        <span className="face-mark">{flipped ? "Under face" : "Show face"}</span>
        <Tick label="cut line" value={over.cut} onChange={(cut) => setOver({ ...over, cut })} />
        <Tick label="mirror image" value={over.mirror} onChange={(mirror) => setOver({ ...over, mirror })} />
        <Tick label="grain at the router" value={over.grain} onChange={(v) => setOver({ ...over, grain: v })} />
      </div>
      <div className="drawing" ref={ref}>
        {size.width > 0 && (
          <svg
            width={size.width}
            height={size.height}
            role="application"
            tabIndex={0}
            aria-label={`${board.name}, true to size. ${keys}`}
            onKeyDown={onKeyDown}
            {...pointer}
          >
            <g transform={view.frame}>
              {over.cut && <Waste r={r} />}
              <ShapeWood board={board} r={r} wood={wood} slabName={slabName} flipped={flipped} ground={ground} />
              <ShapeLines r={r} over={over} flipped={flipped} part={shaping.part} across={shaping.line} />
            </g>
            {shaping.part === "recesses" && <Places r={r} toScreen={view.toScreen} />}
            <ShapeMarks r={r} flipped={flipped} toScreen={view.toScreen} height={size.height} />
            <Grips grips={grips} half={half} toScreen={view.toScreen} picked={shaping.picked} lead={lead} />
          </svg>
        )}
      </div>
    </div>
  );
}

/** Places are where the recesses lie, as dimensions. */
function Places({ r, toScreen }: { r: Reckoned; toScreen: (p: Point) => Point }) {
  const { length } = useWorkshop();
  return (
    <>
      {r.shape.places.map((p, i) => (
        <Dimension key={i} from={toScreen(p.a)} to={toScreen(p.b)} text={length(p.mm)} off={0} />
      ))}
    </>
  );
}
