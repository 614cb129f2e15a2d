// The dimensions of each fitting.
import Button from "react-bootstrap/Button";
import type { Fit, Shop } from "../api/client";
import { Choice, LengthField, Row, TextField, Tick } from "../kit/fields";
import { named, useKeeping } from "../kit/keeping";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

type Set = (part: Partial<Fit>, kind?: string) => void;

interface Props<K extends keyof Fit> {
  of: NonNullable<Fit[K]>;
  set: Set;
}

/** PullsFields are of pulls that are screwed on. */
export function PullsFields({ of: p, set }: Props<"pulls">) {
  const { shop } = useWorkshop();
  return (
    <>
      <Kits
        what="Pulls"
        of={p}
        kept={(shop.pulls ?? []).map((k) => ({ name: k.name, of: k.pulls }))}
        take={(pulls, kind) => set({ pulls }, kind)}
        keep={(now, { name, of: pulls }) => ({ pulls: named(now.pulls, { name, pulls }) })}
      />
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
      <Row>
        <LengthField
          label="Long over all, 0 for the usual"
          of="board.fit.pulls.long"
          mm={p.long ?? 0}
          onChange={(long) => set({ pulls: { ...p, long } }, "pull-long")}
        />
        <LengthField
          label="Its feet wide, 0 for the usual"
          of="board.fit.pulls.wide"
          mm={p.wide ?? 0}
          onChange={(wide) => set({ pulls: { ...p, wide } }, "pull-wide")}
        />
        <TextField
          label="Colour"
          value={p.colour ?? ""}
          placeholder="black, brass"
          onChange={(colour) => set({ pulls: { ...p, colour } }, "colour")}
        />
      </Row>
      <Tick
        label="On the centre line, not in the middle of the width there"
        value={p.onLine ?? false}
        onChange={(onLine) => set({ pulls: { ...p, onLine: onLine || undefined } })}
      />
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
      <Tick
        label="Astride the board's edge, the groove in the handle"
        value={h.straddles ?? false}
        onChange={(straddles) => set({ bolted: { ...h, straddles: straddles || undefined } })}
      />
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
        <LengthField
          label="Screws"
          of="board.fit.cleat.screw"
          mm={c.screw}
          onChange={(screw) => set({ cleat: { ...c, screw } }, "cs")}
        />
      </Row>
      <Row>
        <LengthField
          label="Free edge of the worktop, 0 unknown"
          of="board.fit.cleat.worktop"
          mm={c.worktop ?? 0}
          onChange={(worktop) => set({ cleat: { ...c, worktop } }, "worktop")}
        />
        <LengthField
          label="Worktop's depth, 0 unknown"
          of="board.fit.cleat.topDepth"
          mm={c.topDepth ?? 0}
          onChange={(topDepth) => set({ cleat: { ...c, topDepth } }, "top-depth")}
        />
      </Row>
      <Tick
        label="On its edge; lying flat is safer to screw"
        value={c.onEdge ?? false}
        onChange={(onEdge) => set({ cleat: { ...c, onEdge: onEdge || undefined } })}
      />
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
  const { shop } = useWorkshop();
  return (
    <>
      <Kits
        what="A kit"
        of={s}
        kept={(shop.slicers ?? []).map((k) => ({ name: k.name, of: k.slicer }))}
        take={(slicer, kind) => set({ slicer }, kind)}
        keep={(now, { name, of: slicer }) => ({ slicers: named(now.slicers, { name, slicer }) })}
      />
      <Choice
        label="Measured from"
        value={s.fromHandle ? "handle" : "far"}
        options={[
          { value: "far", label: "the far end" },
          { value: "handle", label: "the handle end" },
        ]}
        onChange={(v) => set({ slicer: { ...s, fromHandle: v === "handle" || undefined } })}
      />
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
          label="Slot from that end"
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
        <LengthField
          label="Slot over the bore, 0 to reckon it"
          of="board.fit.slicer.near"
          mm={s.near ?? 0}
          onChange={(near) => set({ slicer: { ...s, near } }, "near")}
        />
      </Row>
    </>
  );
}

interface KitsProps<T extends { kit?: string }> {
  /** What they are called, in a few words. */
  what: string;
  of: T;
  kept: { name: string; of: T }[];
  take: (kit: T, kind?: string) => void;
  keep: (now: Shop, kit: { name: string; of: T }) => Partial<Shop>;
}

/** Kits are what the shop keeps by name of a kind of fittings: taken, or kept. */
function Kits<T extends { kit?: string }>({ what, of, kept, take, keep }: KitsProps<T>) {
  const keeping = useKeeping();
  const name = of.kit?.trim() ?? "";
  return (
    <>
      <Row>
        {kept.length > 0 && (
          <Choice
            label={`${what} that you keep`}
            value={kept.some((k) => k.name === of.kit) ? (of.kit ?? "") : ""}
            options={[{ value: "", label: "none" }, ...kept.map((k) => ({ value: k.name, label: k.name }))]}
            onChange={(chosen) => {
              const kit = kept.find((k) => k.name === chosen);
              if (kit) take({ ...kit.of, kit: chosen });
            }}
          />
        )}
        <TextField label="Kept as" value={of.kit ?? ""} onChange={(kit) => take({ ...of, kit }, "kit")} />
        <Button
          size="sm"
          variant="outline-primary"
          className="align-self-end mb-1"
          disabled={name === "" || keeping.isPending}
          onClick={() => keeping.mutate((now) => keep(now, { name, of }))}
        >
          Keep it
        </Button>
      </Row>
      <Wrong error={keeping.error} />
    </>
  );
}

/** CoinFields are of a coin that is let into a face. */
export function CoinFields({ of: o, set }: Props<"coin">) {
  return (
    <>
      <Row>
        <LengthField
          label="Diameter"
          of="board.fit.coin.diameter"
          mm={o.diameter}
          onChange={(diameter) => set({ coin: { ...o, diameter } }, "coin-d")}
        />
        <LengthField
          label="Seat's depth"
          of="board.fit.coin.deep"
          mm={o.deep}
          onChange={(deep) => set({ coin: { ...o, deep } }, "coin-deep")}
        />
      </Row>
      <Row>
        <LengthField
          label="Along from the middle"
          of="board.fit.coin.x"
          mm={o.x}
          onChange={(x) => set({ coin: { ...o, x } }, "coin-x")}
        />
        <LengthField
          label="To the left"
          of="board.fit.coin.y"
          mm={o.y}
          onChange={(y) => set({ coin: { ...o, y } }, "coin-y")}
        />
      </Row>
      <Tick
        label="In the show face"
        value={o.show ?? false}
        onChange={(show) => set({ coin: { ...o, show: show || undefined } })}
      />
    </>
  );
}
