// What is worth showing of a piece, by numbers.
import type { Feature, Mark, Slab } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, FaceChoice, TextField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { AddMark } from "./AddMark";
import { MarkCard } from "./MarkCard";
import { MarkPlace } from "./MarkPlace";
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
  const change = (id: string, next: (now: Feature) => Partial<Feature>) =>
    set(
      (now) => ({ features: (now.features ?? []).map((f) => (f.id === id ? { ...f, ...next(f) } : f)) }),
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
        <MarkCard
          key={f.id}
          id={f.id}
          name={`${tables.features.find((m) => m.kind === f.kind)?.name} ${i + 1}`}
          facts={f.note || (f.under ? "under face" : "show face")}
          what={`feature ${i + 1}`}
          open={picked === f.id}
          onOpen={(open) => onPick(open ? f.id : "")}
          onRemove={() => set((now) => ({ features: (now.features ?? []).filter((o) => o.id !== f.id) }))}
        >
          <FeatureFields feature={f} change={(next) => change(f.id, next)} />
        </MarkCard>
      ))}
      <AddMark kinds={tables.features} onAdd={add} />
    </>
  );
}

interface FieldsProps {
  feature: Feature;
  change: (next: (now: Feature) => Partial<Feature>) => void;
}

function FeatureFields({ feature: f, change }: FieldsProps) {
  const { tables } = useWorkshop();
  const part = (p: Partial<Feature>) => change(() => p);
  const drawn = tables.features.find((m) => m.kind === f.kind)?.drawn;
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
      {drawn && <MarkPlace mark={f} drawn={drawn} list="features" change={change} />}
    </div>
  );
}
