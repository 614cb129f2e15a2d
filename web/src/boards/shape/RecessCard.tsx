// One recess, with what it takes at the router.
import type { Recess, Reckoned } from "../../api/client";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField, Tick } from "../../kit/fields";
import { Figures } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";

const sides = ["left", "right", "handle end", "far end"] as const;

interface FieldsProps {
  c: Recess;
  part: (change: Partial<Recess>, kind?: string) => void;
}

interface CardProps extends FieldsProps {
  n: number;
  /** What the router has to do for it; nothing where it cannot be cut. */
  work?: Reckoned["shape"]["work"][number];
  onRemove: () => void;
}

/** runs tells the recesses that one run of a bit makes. */
const runs = (c: Recess): boolean => c.kind === "groove" || c.kind === "ring";

export function RecessCard({ c, n, work, part, onRemove }: CardProps) {
  const { tables } = useWorkshop();
  return (
    <div className="flaw-card p-2">
      <div className="d-flex align-items-center">
        <strong className="flex-grow-1">
          {tables.recesses.find((k) => k.kind === c.kind)?.name} {n}
        </strong>
        <RemoveButton what={`recess ${n}`} onClick={onRemove} />
      </div>
      <PlaceFields c={c} part={part} />
      {!runs(c) && <SizeFields c={c} part={part} />}
      <DepthFields c={c} part={part} />
      <SpreadFields c={c} part={part} />
      <Row>
        <Choice
          label="Pouring lip"
          value={c.lip ?? ""}
          options={[{ value: "", label: "none" }, ...sides]}
          onChange={(lip) => part({ lip })}
        />
        {c.lip && (
          <LengthField
            label="Lip's width"
            of="board.design.recesses.lipBit"
            mm={c.lipBit || 10}
            onChange={(lipBit) => part({ lipBit }, "lipBit")}
          />
        )}
        <NumberField
          label="Juice expected"
          unit="ml"
          of="board.design.recesses.juice"
          value={c.juice ?? 0}
          onChange={(juice) => part({ juice }, "juice")}
        />
        <NumberField
          label="or a roast of"
          unit="kg"
          step={0.5}
          of="board.design.recesses.roast"
          value={c.roast ?? 0}
          onChange={(roast) => part({ roast }, "roast")}
        />
      </Row>
      <Tick label="In the under face" value={c.under ?? false} onChange={(under) => part({ under })} />
      {work && <Work of={work} />}
    </div>
  );
}

/** PlaceFields are where it lies. */
function PlaceFields({ c, part }: FieldsProps) {
  if (c.kind === "groove") {
    return (
      <LengthField
        label="From the outline"
        of="board.design.recesses.inset"
        mm={c.inset ?? 0}
        onChange={(inset) => part({ inset }, "inset")}
      />
    );
  }
  return (
    <>
      <Row>
        <LengthField
          label="Along from the middle"
          of="board.design.recesses.x"
          mm={c.x}
          onChange={(x) => part({ x }, "x")}
        />
        {!c.side && (
          <LengthField label="To the left" of="board.design.recesses.y" mm={c.y} onChange={(y) => part({ y }, "y")} />
        )}
      </Row>
      <Row>
        <LengthField
          label="or from a long side"
          of="board.design.recesses.side"
          mm={c.side ?? 0}
          onChange={(side) => part({ side }, "side")}
        />
        {(c.side ?? 0) > 0 && (
          <Choice
            label="which is the"
            value={c.from || "right"}
            options={["left", "right"]}
            onChange={(from) => part({ from })}
          />
        )}
      </Row>
      {c.kind === "ring" && (
        <LengthField
          label="Diameter outside"
          of="board.design.recesses.length"
          mm={c.length ?? 0}
          onChange={(length) => part({ length }, "length")}
        />
      )}
    </>
  );
}

/** SizeFields are how large it is, by itself or by what it holds. */
function SizeFields({ c, part }: FieldsProps) {
  const item = c.item ?? 0;
  return (
    <>
      {item === 0 && (
        <Row>
          <LengthField
            label="Length"
            of="board.design.recesses.length"
            mm={c.length ?? 0}
            onChange={(length) => part({ length }, "length")}
          />
          <LengthField
            label="Width"
            of="board.design.recesses.width"
            mm={c.width ?? 0}
            onChange={(width) => part({ width }, "width")}
          />
        </Row>
      )}
      <Row>
        <TextField
          label="Holds"
          value={c.holds ?? ""}
          placeholder="a bowl, a jar"
          onChange={(holds) => part({ holds }, "holds")}
        />
        <LengthField
          label={(c.long ?? 0) > 0 ? "of width" : "of diameter"}
          of="board.design.recesses.item"
          mm={item}
          onChange={(v) => part({ item: v }, "item")}
        />
        {item > 0 && c.kind !== "bowl" && (
          <LengthField
            label="of length, 0 if round"
            of="board.design.recesses.long"
            mm={c.long ?? 0}
            onChange={(long) => part({ long }, "long")}
          />
        )}
        {item > 0 && (
          <LengthField
            label="with room round it"
            of="board.design.recesses.clear"
            mm={c.clear ?? 0}
            onChange={(clear) => part({ clear }, "clear")}
          />
        )}
      </Row>
    </>
  );
}

/** DepthFields are how deep it is, and how its corners and floor are rounded. */
function DepthFields({ c, part }: FieldsProps) {
  return (
    <Row>
      <LengthField
        label={c.kind === "slope" ? "Depth, shallow side" : "Depth"}
        of="board.design.recesses.depth"
        mm={c.depth}
        onChange={(depth) => part({ depth }, "depth")}
      />
      {c.kind === "slope" && (
        <LengthField
          label="Depth, deep side"
          of="board.design.recesses.deep"
          mm={c.deep ?? 0}
          onChange={(deep) => part({ deep }, "deep")}
        />
      )}
      {c.kind !== "bowl" && (!c.item || (c.long ?? 0) > 0) && (
        <LengthField
          label={runs(c) ? "Radius of the bit" : "Corners"}
          of="board.design.recesses.radius"
          mm={c.radius ?? 0}
          onChange={(radius) => part({ radius }, "radius")}
        />
      )}
      {(c.kind === "well" || c.kind === "slope") && (
        <LengthField
          label="Cove at the floor"
          of="board.design.recesses.cove"
          mm={c.cove ?? 0}
          onChange={(cove) => part({ cove }, "cove")}
        />
      )}
    </Row>
  );
}

/** SpreadFields are which way it drains, and how several alike are spread. */
function SpreadFields({ c, part }: FieldsProps) {
  const many = !runs(c) && (c.count ?? 0) > 1;
  return (
    <Row>
      {c.kind === "slope" && (
        <Choice
          label="Drains to the"
          value={c.toward || "right"}
          options={sides}
          onChange={(toward) => part({ toward })}
        />
      )}
      {!runs(c) && (
        <NumberField
          label="How many alike"
          whole
          least={1}
          of="board.design.recesses.count"
          value={c.count || 1}
          onChange={(count) => part({ count, ...(count > 1 && !c.spread ? { spread: "ends" } : {}) }, "count")}
        />
      )}
      {many && (
        <Choice
          label="Spaced"
          value={c.spread || "ends"}
          options={[
            { value: "ends", label: "evenly from the ends" },
            { value: "middle", label: "about the middle" },
          ]}
          onChange={(spread) => part({ spread })}
        />
      )}
      {many && c.spread !== "middle" && (
        <LengthField
          label="From both ends, 0 for the same gap"
          of="board.design.recesses.margin"
          mm={c.margin ?? 0}
          onChange={(margin) => part({ margin }, "margin")}
        />
      )}
      {many && c.spread === "middle" && (
        <LengthField
          label="Between them"
          of="board.design.recesses.gap"
          mm={c.gap ?? 0}
          onChange={(gap) => part({ gap }, "gap")}
        />
      )}
    </Row>
  );
}

/** Work is what it holds, and what the router does for it. */
function Work({ of: w }: { of: Reckoned["shape"]["work"][number] }) {
  const { value, length } = useWorkshop();
  const one = (n: number, word: string) => `${n} ${word}${n === 1 ? "" : "s"}`;
  const passes = w.passes === 1 ? "one pass deep" : `${w.passes} passes deep`;
  const cleared = `the ${length(w.rough)} bit clears it in ${one(w.strips, "strip")}, ${passes}`;
  const clears =
    w.rough > w.bit
      ? `${cleared}; the ${length(w.bit)} bit makes its corners`
      : `the ${length(w.bit)} bit, ${one(w.strips, "strip")}, ${passes}`;
  return (
    <>
      <p className="facts">
        Holds {value(w.volume, "ml")}; {w.bit > 0 ? clears : "no bit in the shop cuts it: carve it"}
        {w.bush > 0 && `, ${length(w.bush)} guide bush`}
        {(w.pivot ?? 0) > 0 && `, circle jig at ${length(w.pivot ?? 0)}`}. Floor {length(w.floor)}.
      </p>
      <Figures figures={w.figures} />
    </>
  );
}
