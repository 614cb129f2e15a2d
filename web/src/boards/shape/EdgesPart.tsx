// Edges: one profile all round, and others for a side or a face.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Design, Edge, EdgeAt } from "../../api/client";
import { cut, put } from "../../kit/items";
import { Choice, kindsOf, LengthField, NumberField, RemoveButton, Row, TextField } from "../../kit/fields";
import { named, useKeeping } from "../../kit/keeping";
import { Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { started, type SetDesign } from "./lines";

const faces = [
  { value: "", label: "both faces" },
  { value: "show", label: "show face" },
  { value: "under", label: "under face" },
];

function EdgeFields({ e, part }: { e: Edge; part: (change: Partial<Edge>, kind?: string) => void }) {
  const { tables } = useWorkshop();
  const leaning = e.kind === "chamfer" || e.kind === "bevel";
  return (
    <Row>
      <Choice
        label="Profile"
        value={e.kind}
        options={kindsOf(tables.edges)}
        onChange={(kind) => part(started({ ...e, kind }, tables.edges.find((o) => o.kind === kind)?.start))}
      />
      {e.kind !== "none" && (
        <LengthField
          label={leaning ? "Down the edge" : e.kind === "round-over" ? "Radius" : "Size"}
          of="board.design.edge.size"
          mm={e.size}
          onChange={(size) => part({ size }, "size")}
        />
      )}
      {leaning && (
        <NumberField
          label="From the face"
          unit="°"
          of="board.design.edge.angle"
          value={e.angle || 45}
          onChange={(angle) => part({ angle }, "angle")}
        />
      )}
      {e.kind !== "none" && (
        <Choice
          label="On"
          value={e.face ?? ""}
          options={faces}
          onChange={(face) => part({ face: face as Edge["face"] })}
        />
      )}
    </Row>
  );
}

export function EdgesPart({ d, set }: { d: Design; set: SetDesign }) {
  const edges = d.edges ?? [];
  return (
    <>
      <h2>All round</h2>
      <Kept edge={d.edge} set={set} />
      <EdgeFields
        e={d.edge}
        part={(change, kind = "") => set((now) => ({ edge: { ...now.edge, ...change } }), kind && `edge-${kind}`)}
      />
      {edges.map((e, i) => (
        <div key={i} className="flaw-card p-2">
          <div className="d-flex align-items-end">
            <div className="flex-grow-1">
              <Choice
                label="But along"
                value={e.where}
                options={[
                  { value: "left", label: "the left side" },
                  { value: "right", label: "the right side" },
                  { value: "handle end", label: "the handle end" },
                  { value: "far end", label: "the far end" },
                  { value: "holes", label: "the holes" },
                ]}
                onChange={(where) =>
                  set((now) => ({ edges: put(now.edges ?? [], i, { where: where as EdgeAt["where"] }) }))
                }
              />
            </div>
            <RemoveButton what={`edge ${i + 1}`} onClick={() => set((now) => ({ edges: cut(now.edges ?? [], i) }))} />
          </div>
          <EdgeFields
            e={e}
            part={(change, kind = "") =>
              set((now) => ({ edges: put<EdgeAt>(now.edges ?? [], i, change) }), kind && `edge-${i}-${kind}`)
            }
          />
        </div>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set((now) => ({ edges: [...(now.edges ?? []), { where: "left", kind: "chamfer", size: 5 }] }))}
      >
        Another for one side
      </Button>
      <p className="facts">Natural edges stay as they are.</p>
    </>
  );
}

/** Kept are the profiles that the shop keeps by name: taken for all round, or kept from there. */
function Kept({ edge, set }: { edge: Edge; set: SetDesign }) {
  const { shop } = useWorkshop();
  const [name, setName] = useState("");
  const kept = shop.profiles ?? [];
  const keep = useKeeping(() => setName(""));
  return (
    <>
      {kept.length > 0 && (
        <Choice
          label="A profile that you keep"
          value=""
          options={[{ value: "", label: "choose one" }, ...kept.map((p) => ({ value: p.name, label: p.name }))]}
          onChange={(chosen) => {
            const profile = kept.find((p) => p.name === chosen);
            if (profile) set({ edge: profile.edge });
          }}
        />
      )}
      {edge.kind !== "none" && (
        <Row>
          <TextField label="Keep this profile as" value={name} onChange={setName} />
          <Button
            size="sm"
            variant="outline-primary"
            className="align-self-end mb-1"
            disabled={name.trim() === "" || keep.isPending}
            onClick={() => keep.mutate((now) => ({ profiles: named(now.profiles, { name: name.trim(), edge }) }))}
          >
            Keep it
          </Button>
        </Row>
      )}
      <Wrong error={keep.error} />
    </>
  );
}
