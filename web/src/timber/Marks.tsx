// The flaws of a piece by numbers, for those who measure
// rather than point.
import type { Flaw, Mark, Slab, Wood } from "../api/client";
import { type Edit } from "../kit/document/useDocument";
import { put } from "../kit/items";
import { Choice, FaceChoice, LengthField, NumberField, Row, Tick } from "../kit/fields";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { AddMark } from "./AddMark";
import { MarkCard } from "./MarkCard";
import { MarkPlace } from "./MarkPlace";
import { newFlaw } from "./marks";

/** changed changes the flaw of an id, if it is still there. */
const changed =
  (id: string, change: (now: Flaw) => Partial<Flaw>) =>
  (now: Slab): Partial<Slab> => {
    const i = now.flaws.findIndex((o) => o.id === id);
    return i < 0 ? {} : { flaws: put(now.flaws, i, change(now.flaws[i])) };
  };

interface Props {
  slab: Slab;
  wood: Wood;
  flipped: boolean;
  set: Edit<Slab>;
  picked: string;
  onPick: (id: string) => void;
}

export function Flaws({ slab: s, wood, flipped, set, picked, onPick }: Props) {
  const { length, tables } = useWorkshop();
  const add = (m: Mark) => {
    const middle = { x: s.length / 2, y: 0 };
    const f = newFlaw(m, middle, { x: middle.x + Math.max(12, 2 * m.least), y: 0 }, flipped);
    set((now) => ({ flaws: [...now.flaws, f] }));
    onPick(f.id);
  };
  return (
    <>
      <h2>Flaws</h2>
      {s.flaws.length === 0 && <p className="facts">None marked. Mark them on the wood, or add one by numbers.</p>}
      {s.flaws.map((f, i) => (
        <MarkCard
          key={f.id}
          id={f.id}
          name={`${tables.flaws.find((m) => m.kind === f.kind)?.name} ${i + 1}`}
          facts={
            (f.kind === "crack" ? `${length(f.width)} wide, ` : f.state ? `${f.state}, ` : "") +
            (f.through ? "through" : `${length(f.depth)} deep`)
          }
          what={`flaw ${i + 1}`}
          open={picked === f.id}
          onOpen={(open) => onPick(open ? f.id : "")}
          onRemove={() => set((now) => ({ flaws: now.flaws.filter((o) => o.id !== f.id) }))}
          always={<Holders wood={wood} flaw={f.id} />}
        >
          <FlawFields flaw={f} part={(change) => set(changed(f.id, change), `flaw-${f.id}`)} />
        </MarkCard>
      ))}
      <AddMark kinds={tables.flaws} onAdd={add} />
    </>
  );
}

/** Holders names the boards that hold some of a flaw. */
function Holders({ wood, flaw }: { wood: Wood; flaw: string }) {
  const { value } = useWorkshop();
  const held = wood.flaws.find((f) => f.id === flaw)?.boards ?? [];
  const boards = wood.boards.filter((b) => held.includes(b.id));
  if (boards.length === 0) return null;
  return (
    <ul className="holders">
      {boards.map((b) => (
        <li key={b.id}>
          <LevelMark level={b.level} word={false} /> in {b.name}
          {b.resin > 0 && `, whose voids hold ${value(b.voids, "ml")}`}
        </li>
      ))}
    </ul>
  );
}

interface FieldsProps {
  flaw: Flaw;
  part: (change: (now: Flaw) => Partial<Flaw>) => void;
}

function FlawFields({ flaw: f, part: change }: FieldsProps) {
  const { tables } = useWorkshop();
  const part = (p: Partial<Flaw>) => change(() => p);
  const drawn = tables.flaws.find((m) => m.kind === f.kind)?.drawn;
  return (
    <div className="flaw-fields">
      {f.kind === "knot" && (
        <Choice
          label="The knot is"
          value={(f.state ?? "sound") as string}
          options={["sound", "loose", "missing"]}
          onChange={(state) => part({ state: state as Flaw["state"] })}
        />
      )}
      {f.kind === "soft" && (
        <Choice
          label="A nail pressed in"
          value={(f.pressed ?? "") as string}
          options={[
            { value: "", label: "not tried" },
            { value: "holds", label: "holds: it can stay as figure" },
            { value: "gives", label: "gives way: it is dug out" },
          ]}
          onChange={(pressed) => part({ pressed: (pressed || undefined) as Flaw["pressed"] })}
        />
      )}
      <Choice
        label="The wood about it"
        value={(f.zone ?? "") as string}
        options={[
          { value: "", label: "not told" },
          { value: "heart", label: "heartwood" },
          { value: "sap", label: "sapwood" },
          { value: "both", label: "from heart to sap" },
        ]}
        onChange={(zone) => part({ zone: (zone || undefined) as Flaw["zone"] })}
      />
      {drawn && <MarkPlace mark={f} drawn={drawn} list="flaws" change={change} />}
      {f.kind === "crack" && (
        <Choice
          label="Shape"
          value={f.slot ? "slot" : "v"}
          options={[
            { value: "v", label: "V-shaped" },
            { value: "slot", label: "slot" },
          ]}
          onChange={(v) => part({ slot: v === "slot" })}
        />
      )}
      {f.kind === "worm" && (
        <Row>
          <NumberField
            label="Holes"
            whole
            of="piece.flaws.count"
            value={f.count}
            onChange={(count) => part({ count })}
          />
          <LengthField
            label="Diameter"
            of="piece.flaws.diameter"
            mm={f.diameter}
            onChange={(diameter) => part({ diameter })}
          />
        </Row>
      )}
      <Row>
        <LengthField label="Depth" of="piece.flaws.depth" mm={f.depth} onChange={(depth) => part({ depth })} />
        <FaceChoice label="Opens on" under={f.under ?? false} onChange={(under) => part({ under })} />
      </Row>
      <Tick label="Goes through" value={f.through} onChange={(through) => part({ through })} />
      {f.through && (
        <Row>
          <LengthField
            label="Comes out farther along by"
            signed
            mm={f.tilt?.x ?? 0}
            onChange={(x) => change((now) => ({ tilt: { x, y: now.tilt?.y ?? 0 } }))}
          />
          <LengthField
            label="and to the left by"
            signed
            mm={f.tilt?.y ?? 0}
            onChange={(y) => change((now) => ({ tilt: { x: now.tilt?.x ?? 0, y } }))}
          />
        </Row>
      )}
      <Choice
        label="What you want of it"
        value={f.wish ?? ""}
        options={[
          { value: "", label: "not decided" },
          { value: "keep out", label: "keep it out of every board" },
          { value: "fill", label: "a board may hold it, filled" },
          { value: "feature", label: "make it a feature" },
          { value: "cut away", label: "cut it away" },
        ]}
        onChange={(wish) => part({ wish })}
      />
    </div>
  );
}
