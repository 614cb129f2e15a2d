// The Shape stage beside its drawing, in parts.
import { memo } from "react";
import type { PanelProps } from "../panel";
import { CutPart } from "./CutPart";
import { EdgesPart } from "./EdgesPart";
import { HandlesPart } from "./HandlesPart";
import { designer, type Shaping } from "./lines";
import { OutlinePart } from "./OutlinePart";
import { RecessesPart } from "./RecessesPart";
import { SetPart } from "./SetPart";

export const shapeParts = {
  outline: "Outline",
  handles: "Handles",
  edges: "Edges",
  recesses: "Recesses",
  set: "Set",
  cut: "Cut",
} as const;

interface Props extends PanelProps {
  shaping: Shaping;
  onPart: (part: string) => void;
  version: () => number;
  ready: boolean;
}

export const ShapePanel = memo(function ShapePanel({
  board,
  r,
  wood,
  sheet,
  change,
  shaping,
  onPart,
  version,
  ready,
}: Props) {
  const set = designer(change);
  return (
    <>
      <div className="parts" role="tablist" aria-label="Parts of the shape">
        {Object.entries(shapeParts).map(([k, name]) => (
          <button
            key={k}
            type="button"
            role="tab"
            id={`part-${k}`}
            aria-selected={shaping.part === k}
            aria-controls="part"
            onClick={() => onPart(k)}
          >
            {name}
          </button>
        ))}
      </div>
      <div id="part" role="tabpanel" aria-labelledby={`part-${shaping.part}`}>
        {shaping.part === "outline" && (
          <OutlinePart
            board={board}
            r={r}
            wood={wood}
            set={set}
            shaping={shaping}
            replaceBoard={(was) => change((b) => ({ ...was, id: b.id, mates: b.mates, twin: b.twin }))}
          />
        )}
        {shaping.part === "handles" && <HandlesPart d={board.design} r={r} set={set} picked={shaping.picked} />}
        {shaping.part === "edges" && <EdgesPart d={board.design} set={set} />}
        {shaping.part === "recesses" && <RecessesPart d={board.design} r={r} set={set} />}
        {shaping.part === "set" && (
          <SetPart
            others={sheet.others}
            board={board}
            r={r}
            wood={wood}
            shaping={shaping}
            version={version}
            ready={ready}
            onMates={(mates) => change((b) => ({ ...b, mates }))}
          />
        )}
        {shaping.part === "cut" && <CutPart board={board} r={r} set={set} shaping={shaping} />}
      </div>
    </>
  );
});
