// Recesses: wells, bowls, sloped floors, grooves and rings, with what each
// takes at the router.
import Button from "react-bootstrap/Button";
import type { Design, Recess, Reckoned, Tables } from "../../api/client";
import { cut } from "../../kit/items";
import { useWorkshop } from "../../kit/workshop";
import { setRecess, type SetDesign } from "./lines";
import { RecessCard } from "./RecessCard";

/** fresh is a new recess of a kind, in the middle. */
const fresh = (k: Tables["recesses"][number]): Recess => ({
  x: 0,
  y: 0,
  depth: 0,
  ...k.start,
  kind: k.kind as Recess["kind"],
});

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
          work={r.shape.work.find((w) => w.name === r.shape.recesses.find((o) => o.index === i)?.name)}
          part={(change, kind = "") => set((now) => setRecess(now, i, change), kind && `recess-${i}-${kind}`)}
          onRemove={() => set((now) => ({ recesses: cut(now.recesses ?? [], i) }))}
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
