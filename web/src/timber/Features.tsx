// What is worth showing of a piece, by numbers.
import type { Feature, Mark, Slab } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, FaceChoice, LengthField, NumberField, RemoveButton, Row, TextField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { AddMark } from "./AddMark";
import { newFeature } from "./marks";

interface Props {
  slab: Slab;
  flipped: boolean;
  set: Edit<Slab>;
  picked: string;
  onPick: (id: string) => void;
}

/** Features edits what is worth showing. */
export function Features({ slab: s, flipped, set, picked, onPick }: Props) {
  const { tables } = useWorkshop();
  const list = s.features ?? [];
  const change = (id: string, part: Partial<Feature>) =>
    set(
      (now) => ({ features: (now.features ?? []).map((f) => (f.id === id ? { ...f, ...part } : f)) }),
      `feature-${id}`,
    );
  const add = (m: Mark) => {
    const f = newFeature(m, { x: s.length / 2, y: 0 }, { x: s.length / 2 + 40, y: 0 }, flipped);
    set((now) => ({ features: [...(now.features ?? []), f] }));
    onPick(f.id);
  };
  return (
    <>
      <h2>Worth showing</h2>
      {list.length === 0 && (
        <p className="facts">Mark good figure and colour too, so that a board is laid where they show.</p>
      )}
      {list.map((f, i) => (
        <div key={f.id} className="flaw-card">
          <div className="d-flex align-items-center">
            <button
              type="button"
              className="flaw-head"
              aria-expanded={picked === f.id}
              onClick={() => onPick(picked === f.id ? "" : f.id)}
            >
              {tables.features.find((m) => m.kind === f.kind)?.name} {i + 1}
              <span className="facts">{f.note || (f.under ? "under face" : "show face")}</span>
            </button>
            <RemoveButton
              what={`feature ${i + 1}`}
              onClick={() => set((now) => ({ features: (now.features ?? []).filter((o) => o.id !== f.id) }))}
            />
          </div>
          {picked === f.id && <FeatureFields feature={f} part={(part) => change(f.id, part)} />}
        </div>
      ))}
      <AddMark kinds={tables.features} onAdd={add} />
    </>
  );
}

function FeatureFields({ feature: f, part }: { feature: Feature; part: (part: Partial<Feature>) => void }) {
  return (
    <div className="flaw-fields">
      <TextField label="What it is" value={f.note ?? ""} onChange={(note) => part({ note })} />
      <Choice
        label="How a board should show it"
        value={f.wish ?? ""}
        options={[
          { value: "", label: "not decided" },
          { value: "keep inside", label: "keep it inside" },
          { value: "centre", label: "centre it" },
          { value: "down the middle", label: "let it run down the middle" },
        ]}
        onChange={(wish) => part({ wish })}
      />
      <FaceChoice label="Lies on" under={f.under ?? false} onChange={(under) => part({ under })} />
      {f.line ? (
        <LengthField label="Width" of="piece.features.width" mm={f.width ?? 1} onChange={(width) => part({ width })} />
      ) : (
        <Row>
          <LengthField label="Half along" of="piece.features.a" mm={f.a ?? 1} onChange={(a) => part({ a })} />
          <LengthField label="Half across" of="piece.features.b" mm={f.b ?? 1} onChange={(b) => part({ b })} />
          <NumberField
            label="Turned"
            unit="°"
            of="piece.features.angle"
            value={f.angle ?? 0}
            onChange={(angle) => part({ angle })}
          />
        </Row>
      )}
    </div>
  );
}
