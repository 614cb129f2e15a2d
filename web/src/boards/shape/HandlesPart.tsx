// Handles: holes of every kind, notches and finger bevels.
import Button from "react-bootstrap/Button";
import type { Design, Handle, Reckoned } from "../../api/client";
import { cut } from "../../kit/items";
import { Choice, kindsOf, RemoveButton } from "../../kit/fields";
import { Figures } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { HandleFields } from "./HandleFields";
import { rehandled, setHandle, type SetDesign } from "./lines";
import { PickedNode } from "./Nodes";

export function HandlesPart({ d, r, set, picked }: { d: Design; r: Reckoned; set: SetDesign; picked: string }) {
  const { tables } = useWorkshop();
  const more = d.more ?? [];
  const kind = (k: number) => (value: Handle["kind"]) => set((now) => rehandled(now, tables, k, value));
  return (
    <>
      {[d.handle, ...more].map((h, k) => (
        <div key={k} className="flaw-card p-2">
          <div className="d-flex align-items-end">
            <div className="flex-grow-1">
              <Choice
                label={k === 0 ? "Handle" : `Handle ${k + 1}`}
                value={h.kind}
                options={kindsOf(k === 0 ? tables.handles : tables.handles.slice(1))}
                onChange={kind(k)}
              />
            </div>
            {k > 0 && (
              <RemoveButton
                what={`handle ${k + 1}`}
                onClick={() => set((now) => ({ more: cut(now.more ?? [], k - 1) }))}
              />
            )}
          </div>
          <HandleFields
            h={h}
            full
            part={(change, name = "") => set((now) => setHandle(now, k, change), name && `handle-${k}-${name}`)}
          />
          {h.kind === "own" && (
            <>
              <p className="facts">
                {(h.nodes ?? []).length} points. Drag them, or pick one with [ and ] and use the arrows.
              </p>
              <PickedNode d={d} line={`own-${k}`} picked={picked} grips={r.shape.grips} set={set} />
            </>
          )}
        </div>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set((now) => ({ more: [...(now.more ?? []), tables.moreHandle] }))}
      >
        Another handle
      </Button>
      <Figures figures={r.figures.filter((f) => f.key === "handle.off")} />
    </>
  );
}
