// Recesses: wells, bowls, sloped floors, grooves and rings, with what each
// takes at the router.
import Button from "react-bootstrap/Button";
import type { Design, Recess, Reckoned, Tables } from "../../api/client";
import { cut } from "../../kit/items";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField, Tick } from "../../kit/fields";
import { Figures } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { setRecess, type SetDesign } from "./lines";

/** fresh is a new recess of a kind, in the middle. */
const fresh = (k: Tables["recesses"][number]): Recess => ({
  x: 0,
  y: 0,
  depth: 0,
  ...k.start,
  kind: k.kind as Recess["kind"],
});

const sides = ["left", "right", "handle end", "far end"] as const;

export function RecessesPart({ d, r, set }: { d: Design; r: Reckoned; set: SetDesign }) {
  const { tables } = useWorkshop();
  const list = d.recesses ?? [];
  return (
    <>
      {list.length === 0 && (
        <p className="facts">None. A well for olives, a groove for juice, a ring that keeps a bowl in its place.</p>
      )}
      {list.map((c, i) => (
        <RecessCard
          key={i}
          c={c}
          n={i + 1}
          work={r.shape.work}
          part={(change, kind = "") => set((now) => setRecess(now, i, change), kind && `recess-${i}-${kind}`)}
          onRemove={() => set((now) => ({ recesses: cut(now.recesses ?? [], i) }))}
          name={r.shape.recesses.find((o) => o.index === i)?.name ?? ""}
        />
      ))}
      <div className="d-flex gap-1 flex-wrap">
        {tables.recesses.map((k) => (
          <Button
            key={k.kind}
            size="sm"
            variant="outline-primary"
            onClick={() => set((now) => ({ recesses: [...(now.recesses ?? []), fresh(k)] }))}
          >
            + {k.name}
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
  const { value, length, tables } = useWorkshop();
  const runs = c.kind === "groove" || c.kind === "ring";
  const w = work.find((o) => o.name === name);
  return (
    <div className="flaw-card p-2">
      <div className="d-flex align-items-center">
        <strong className="flex-grow-1">
          {tables.recesses.find((k) => k.kind === c.kind)?.name} {n}
        </strong>
        <RemoveButton what={`recess ${n}`} onClick={onRemove} />
      </div>
      {c.kind !== "groove" && (
        <Row>
          <LengthField
            label="Along from the middle"
            of="board.design.recesses.x"
            mm={c.x}
            onChange={(x) => part({ x }, "x")}
          />
          <LengthField label="To the left" of="board.design.recesses.y" mm={c.y} onChange={(y) => part({ y }, "y")} />
        </Row>
      )}
      {c.kind === "groove" && (
        <LengthField
          label="From the outline"
          of="board.design.recesses.inset"
          mm={c.inset ?? 0}
          onChange={(inset) => part({ inset }, "inset")}
        />
      )}
      {c.kind === "ring" && (
        <LengthField
          label="Diameter outside"
          of="board.design.recesses.length"
          mm={c.length ?? 0}
          onChange={(v) => part({ length: v }, "length")}
        />
      )}
      {!runs && (
        <>
          {!c.item && (
            <Row>
              <LengthField
                label="Length"
                of="board.design.recesses.length"
                mm={c.length ?? 0}
                onChange={(v) => part({ length: v }, "length")}
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
              label="of diameter"
              of="board.design.recesses.item"
              mm={c.item ?? 0}
              onChange={(item) => part({ item }, "item")}
            />
            {(c.item ?? 0) > 0 && (
              <LengthField
                label="with room round it"
                of="board.design.recesses.clear"
                mm={c.clear ?? 0}
                onChange={(clear) => part({ clear }, "clear")}
              />
            )}
          </Row>
        </>
      )}
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
        {c.kind !== "bowl" && !c.item && (
          <LengthField
            label={runs ? "Radius of the bit" : "Corners"}
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
      <Row>
        {c.kind === "slope" && (
          <Choice
            label="Drains to the"
            value={c.toward || "right"}
            options={sides}
            onChange={(toward) => part({ toward })}
          />
        )}
        {!runs && (
          <NumberField
            label="How many alike"
            whole
            of="board.design.recesses.count"
            value={c.count || 1}
            onChange={(count) =>
              part({ count, ...(count > 1 && !c.spread ? { spread: "ends" as const } : {}) }, "count")
            }
          />
        )}
        {!runs && (c.count ?? 0) > 1 && (
          <Choice
            label="Spaced"
            value={c.spread || "ends"}
            options={[
              { value: "ends", label: "evenly from the ends" },
              { value: "middle", label: "about the middle" },
            ]}
            onChange={(spread) => part({ spread: spread as Recess["spread"] })}
          />
        )}
        {(c.count ?? 0) > 1 && c.spread === "middle" && (
          <LengthField
            label="Between them"
            of="board.design.recesses.gap"
            mm={c.gap ?? 0}
            onChange={(gap) => part({ gap }, "gap")}
          />
        )}
      </Row>
      <Row>
        <Choice
          label="Pouring lip"
          value={c.lip ?? ""}
          options={[{ value: "", label: "none" }, ...sides]}
          onChange={(lip) => part({ lip: lip as Recess["lip"] })}
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
      </Row>
      <Tick label="In the under face" value={c.under ?? false} onChange={(under) => part({ under })} />
      {w && (
        <>
          <p className="facts">
            Holds {value(w.volume, "ml")}
            {w.bit > 0
              ? `, ${w.passes} ${w.passes === 1 ? "pass" : "passes"} of the ${length(w.bit)} bit`
              : ", no bit in the shop cuts it"}
            {w.bush > 0 && `, ${length(w.bush)} guide bush`}. Floor {length(w.floor)}.
          </p>
          <Figures figures={w.figures} />
        </>
      )}
    </div>
  );
}
