// Recesses: wells, bowls, sloped floors, grooves and rings, with what each
// takes at the router.
import Button from "react-bootstrap/Button";
import type { Design, Recess, Reckoned } from "../../api/client";
import { cut } from "../../kit/items";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField, Tick } from "../../kit/fields";
import { Figures } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { setRecess } from "./grips";
import type { SetDesign } from "./OutlinePart";

const kinds: { value: Recess["kind"]; label: string; start: Recess }[] = [
  { value: "well", label: "Well", start: { kind: "well", x: 0, y: 0, length: 100, width: 70, depth: 8, radius: 6 } },
  { value: "bowl", label: "Bowl", start: { kind: "bowl", x: 0, y: 0, length: 90, width: 60, depth: 10 } },
  { value: "slope", label: "Sloped floor", start: { kind: "slope", x: 0, y: 0, length: 200, width: 120, depth: 3, deep: 7, radius: 6, toward: "right" } },
  { value: "groove", label: "Juice groove", start: { kind: "groove", x: 0, y: 0, inset: 14, radius: 6, depth: 5 } },
  { value: "ring", label: "Sunken ring", start: { kind: "ring", x: 0, y: 0, length: 80, radius: 4, depth: 3 } },
];
const sides = ["left", "right", "handle end", "far end"] as const;

export function RecessesPart({ d, r, set }: { d: Design; r: Reckoned; set: SetDesign }) {
  const list = d.recesses ?? [];
  return (
    <>
      {list.length === 0 && <p className="facts">None. A well for olives, a groove for juice, a ring that keeps a bowl in its place.</p>}
      {list.map((c, i) => (
        <RecessCard key={i} c={c} n={i + 1} work={r.shape.work} part={(change, kind = "") => set((now) => setRecess(now, i, change), kind && `recess-${i}-${kind}`)} onRemove={() => set((now) => ({ recesses: cut(now.recesses ?? [], i) }))} name={r.shape.recesses.find((o) => o.index === i)?.name ?? ""} />
      ))}
      <div className="d-flex gap-1 flex-wrap">
        {kinds.map((k) => (
          <Button key={k.value} size="sm" variant="outline-primary" onClick={() => set((now) => ({ recesses: [...(now.recesses ?? []), k.start] }))}>
            + {k.label}
          </Button>
        ))}
      </div>
    </>
  );
}

interface CardProps {
  c: Recess;
  n: number;
  name: string;
  work: Reckoned["shape"]["work"];
  part: (change: Partial<Recess>, kind?: string) => void;
  onRemove: () => void;
}

function RecessCard({ c, n, name, work, part, onRemove }: CardProps) {
  const { value, length } = useWorkshop();
  const runs = c.kind === "groove" || c.kind === "ring";
  const w = work.find((o) => o.name === name);
  return (
    <div className="flaw-card p-2">
      <div className="d-flex align-items-center">
        <strong className="flex-grow-1">
          {kinds.find((k) => k.value === c.kind)?.label} {n}
        </strong>
        <RemoveButton what={`recess ${n}`} onClick={onRemove} />
      </div>
      {c.kind !== "groove" && (
        <Row>
          <LengthField label="Along from the middle" signed mm={c.x} onChange={(x) => part({ x }, "x")} />
          <LengthField label="To the left" signed mm={c.y} onChange={(y) => part({ y }, "y")} />
        </Row>
      )}
      {c.kind === "groove" && <LengthField label="From the outline" mm={c.inset ?? 0} least={1} onChange={(inset) => part({ inset }, "inset")} />}
      {c.kind === "ring" && <LengthField label="Diameter outside" mm={c.length ?? 0} least={10} onChange={(v) => part({ length: v }, "length")} />}
      {!runs && (
        <>
          {!c.item && (
            <Row>
              <LengthField label="Length" mm={c.length ?? 0} least={5} onChange={(v) => part({ length: v }, "length")} />
              <LengthField label="Width" mm={c.width ?? 0} least={5} onChange={(width) => part({ width }, "width")} />
            </Row>
          )}
          <Row>
            <TextField label="Holds" value={c.holds ?? ""} placeholder="a bowl, a jar" onChange={(holds) => part({ holds }, "holds")} />
            <LengthField label="of diameter" mm={c.item ?? 0} onChange={(item) => part({ item }, "item")} />
            {(c.item ?? 0) > 0 && <LengthField label="with room round it" mm={c.clear ?? 0} onChange={(clear) => part({ clear }, "clear")} />}
          </Row>
        </>
      )}
      <Row>
        <LengthField label={c.kind === "slope" ? "Depth, shallow side" : "Depth"} mm={c.depth} least={0.5} onChange={(depth) => part({ depth }, "depth")} />
        {c.kind === "slope" && <LengthField label="Depth, deep side" mm={c.deep ?? 0} onChange={(deep) => part({ deep }, "deep")} />}
        {c.kind !== "bowl" && !c.item && <LengthField label={runs ? "Radius of the bit" : "Corners"} mm={c.radius ?? 0} onChange={(radius) => part({ radius }, "radius")} />}
        {(c.kind === "well" || c.kind === "slope") && <LengthField label="Cove at the floor" mm={c.cove ?? 0} onChange={(cove) => part({ cove }, "cove")} />}
      </Row>
      <Row>
        {c.kind === "slope" && <Choice label="Drains to the" value={c.toward || "right"} options={sides} onChange={(toward) => part({ toward })} />}
        {!runs && <NumberField label="How many alike" whole value={c.count || 1} least={1} most={24} onChange={(count) => part({ count, ...(count > 1 && !c.spread ? { spread: "ends" as const } : {}) }, "count")} />}
        {!runs && (c.count ?? 0) > 1 && <Choice label="Spaced" value={c.spread || "ends"} options={[{ value: "ends", label: "evenly from the ends" }, { value: "middle", label: "about the middle" }]} onChange={(spread) => part({ spread: spread as Recess["spread"] })} />}
        {(c.count ?? 0) > 1 && c.spread === "middle" && <LengthField label="Between them" mm={c.gap ?? 0} onChange={(gap) => part({ gap }, "gap")} />}
      </Row>
      <Row>
        <Choice label="Pouring lip" value={c.lip ?? ""} options={[{ value: "", label: "none" }, ...sides]} onChange={(lip) => part({ lip: lip as Recess["lip"] })} />
        {c.lip && <LengthField label="Lip's width" mm={c.lipBit || 10} least={1} onChange={(lipBit) => part({ lipBit }, "lipBit")} />}
        <NumberField label="Juice expected" unit="ml" value={c.juice ?? 0} least={0} most={10000} onChange={(juice) => part({ juice }, "juice")} />
      </Row>
      <Tick label="In the under face" value={c.under ?? false} onChange={(under) => part({ under })} />
      {w && (
        <>
          <p className="facts">
            Holds {value(w.volume, "ml")}
            {w.bit > 0 ? `, ${w.passes} ${w.passes === 1 ? "pass" : "passes"} of the ${length(w.bit)} bit` : ", no bit in the shop cuts it"}
            {w.bush > 0 && `, ${length(w.bush)} guide bush`}. Floor {length(w.floor)}.
          </p>
          <Figures figures={w.figures} />
        </>
      )}
    </div>
  );
}
