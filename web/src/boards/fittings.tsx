// The dimensions of each fitting.
import type { Fit } from "../api/client";
import { Choice, LengthField, Row } from "../kit/fields";

type Set = (part: Partial<Fit>, kind?: string) => void;

interface Props<K extends keyof Fit> {
  of: NonNullable<Fit[K]>;
  set: Set;
}

/** PullsFields are of pulls that are screwed on. */
export function PullsFields({ of: p, set }: Props<"pulls">) {
  return (
    <>
      <Row>
        <Choice
          label="At"
          value={p.both ? "both" : "one"}
          options={[
            { value: "both", label: "both ends" },
            { value: "one", label: "the handle end" },
          ]}
          onChange={(v) => set({ pulls: { ...p, both: v === "both" } })}
        />
        <Choice
          label="Held by"
          value={p.machine ? "machine" : "wood"}
          options={[
            { value: "wood", label: "wood screws" },
            { value: "machine", label: "machine screws from below" },
          ]}
          onChange={(v) => set({ pulls: { ...p, machine: v === "machine" } })}
        />
      </Row>
      <Row>
        <LengthField
          label="Between its holes"
          of="board.fit.pulls.spacing"
          mm={p.spacing}
          onChange={(spacing) => set({ pulls: { ...p, spacing } }, "spacing")}
        />
        <LengthField
          label="From the end"
          of="board.fit.pulls.setback"
          mm={p.setback}
          onChange={(setback) => set({ pulls: { ...p, setback } }, "setback")}
        />
        <LengthField
          label="Off the middle"
          of="board.fit.pulls.offset"
          mm={p.offset}
          onChange={(offset) => set({ pulls: { ...p, offset } }, "offset")}
        />
      </Row>
      <Row>
        <LengthField
          label="Its foot is thick"
          of="board.fit.pulls.foot"
          mm={p.foot}
          onChange={(foot) => set({ pulls: { ...p, foot } }, "foot")}
        />
        <LengthField
          label="Head sunk"
          of="board.fit.pulls.countersink"
          mm={p.countersink}
          onChange={(countersink) => set({ pulls: { ...p, countersink } }, "sink")}
        />
        <LengthField
          label="Screw"
          of="board.fit.pulls.screw"
          mm={p.screw}
          onChange={(screw) => set({ pulls: { ...p, screw } }, "screw")}
        />
      </Row>
    </>
  );
}

/** BoltedFields are of a wooden handle with bolts through the board. */
export function BoltedFields({ of: h, set }: Props<"bolted">) {
  return (
    <>
      <Row>
        <LengthField
          label="Its foot is wide"
          of="board.fit.bolted.width"
          mm={h.width}
          onChange={(width) => set({ bolted: { ...h, width } }, "bw")}
        />
        <LengthField
          label="It is high at the bolt"
          of="board.fit.bolted.height"
          mm={h.height}
          onChange={(height) => set({ bolted: { ...h, height } }, "bh")}
        />
        <LengthField
          label="From the end"
          of="board.fit.bolted.from"
          mm={h.from}
          onChange={(from) => set({ bolted: { ...h, from } }, "bf")}
        />
      </Row>
      <Row>
        <LengthField
          label="Groove's depth"
          of="board.fit.bolted.groove"
          mm={h.groove}
          onChange={(groove) => set({ bolted: { ...h, groove } }, "bg")}
        />
        <LengthField
          label="Bolt"
          of="board.fit.bolted.bolt"
          mm={h.bolt}
          onChange={(bolt) => set({ bolted: { ...h, bolt } }, "bb")}
        />
        <LengthField
          label="Head sunk"
          of="board.fit.bolted.sunk"
          mm={h.sunk}
          onChange={(sunk) => set({ bolted: { ...h, sunk } }, "bs")}
        />
      </Row>
    </>
  );
}

/** CleatFields are of a cleat, which locates the board at the edge of a table. */
export function CleatFields({ of: c, set }: Props<"cleat">) {
  return (
    <>
      <Row>
        <LengthField
          label="Height below"
          of="board.fit.cleat.height"
          mm={c.height}
          onChange={(height) => set({ cleat: { ...c, height } }, "ch")}
        />
        <LengthField
          label="Width"
          of="board.fit.cleat.width"
          mm={c.width}
          onChange={(width) => set({ cleat: { ...c, width } }, "cw")}
        />
        {!c.own && (
          <LengthField
            label="Screws"
            of="board.fit.cleat.screw"
            mm={c.screw}
            onChange={(screw) => set({ cleat: { ...c, screw } }, "cs")}
          />
        )}
      </Row>
      <Choice
        label="Its grain"
        value={c.own ? "own" : "along"}
        options={[
          { value: "along", label: "along the cleat: strong, screwed in slots" },
          { value: "own", label: "the board's own, across it: moves with the board, weak" },
        ]}
        onChange={(v) => set({ cleat: { ...c, own: v === "own" } })}
      />
    </>
  );
}

/** SlicerFields are of a wire slicer. */
export function SlicerFields({ of: s, set }: Props<"slicer">) {
  return (
    <>
      <Choice
        label="For"
        value={s.left ? "left" : "right"}
        options={[
          { value: "right", label: "a right hand: bore in the right side" },
          { value: "left", label: "a left hand: bore in the left side" },
        ]}
        onChange={(v) => set({ slicer: { ...s, left: v === "left" } })}
      />
      <Row>
        <LengthField
          label="Slot from the far end"
          of="board.fit.slicer.from"
          mm={s.from}
          onChange={(from) => set({ slicer: { ...s, from } }, "sf")}
        />
        <LengthField
          label="Bore beside the slot by"
          of="board.fit.slicer.gap"
          mm={s.gap}
          onChange={(gap) => set({ slicer: { ...s, gap } }, "sg")}
        />
        <LengthField
          label="Slot's width"
          of="board.fit.slicer.kerf"
          mm={s.kerf}
          onChange={(kerf) => set({ slicer: { ...s, kerf } }, "sk")}
        />
      </Row>
      <Row>
        <LengthField
          label="Bore"
          of="board.fit.slicer.bore"
          mm={s.bore}
          onChange={(bore) => set({ slicer: { ...s, bore } }, "sb")}
        />
        <LengthField
          label="Below the show face"
          of="board.fit.slicer.below"
          mm={s.below}
          onChange={(below) => set({ slicer: { ...s, below } }, "sw")}
        />
        <LengthField
          label="Bore's depth"
          of="board.fit.slicer.deep"
          mm={s.deep}
          onChange={(deep) => set({ slicer: { ...s, deep } }, "sd")}
        />
      </Row>
      <Row>
        <LengthField
          label="Wire"
          of="board.fit.slicer.wire"
          mm={s.wire}
          onChange={(wire) => set({ slicer: { ...s, wire } }, "sr")}
        />
        <LengthField
          label="Shim, 0 to reckon it"
          of="board.fit.slicer.shim"
          mm={s.shim ?? 0}
          onChange={(shim) => set({ slicer: { ...s, shim } }, "ss")}
        />
      </Row>
    </>
  );
}
