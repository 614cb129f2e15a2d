// Handles: holes of every kind, notches and finger bevels.
import Button from "react-bootstrap/Button";
import type { Design, Handle, Reckoned } from "../../api/client";
import { cut } from "../../kit/items";
import { Choice, LengthField, NumberField, RemoveButton, Row, Tick } from "../../kit/fields";
import { Figures } from "../../kit/verdicts";
import { setHandle } from "./grips";
import { PickedNode } from "./Nodes";
import type { SetDesign } from "./OutlinePart";

export const handleNames: { value: Handle["kind"]; label: string }[] = [
  { value: "none", label: "None" },
  { value: "hole", label: "Round hole" },
  { value: "slot", label: "Slot" },
  { value: "heart", label: "Heart-shaped hole" },
  { value: "drop", label: "Drop-shaped hole" },
  { value: "crescent", label: "Crescent" },
  { value: "own", label: "Hole drawn by points" },
  { value: "notch", label: "Side notch" },
  { value: "bevel", label: "Finger bevel" },
  { value: "cord", label: "Cord hole" },
];

const starts: Partial<Record<Handle["kind"], Partial<Handle>>> = {
  slot: { diameter: 30, length: 95 },
  heart: { diameter: 46, length: 48, setback: 55 },
  drop: { diameter: 32, length: 50, setback: 55 },
  crescent: { diameter: 28, length: 95, setback: 50 },
  notch: { diameter: 22, length: 100, setback: 150 },
  cord: { diameter: 8, setback: 25 },
  bevel: { flat: 6, angle: 25, where: "ends" },
  own: {
    setback: 60,
    nodes: [
      { x: -16, y: -40, kind: "smooth" },
      { x: 12, y: -34, kind: "smooth" },
      { x: 18, y: 0, kind: "smooth" },
      { x: 12, y: 34, kind: "smooth" },
      { x: -16, y: 40, kind: "smooth" },
      { x: -12, y: 0, kind: "smooth" },
    ],
  },
};

/** handleOf is what of a design changes with another kind of handle. */
export const handleOf = (d: Design, kind: Handle["kind"], k = 0): Partial<Design> => setHandle(d, k, { kind, ...starts[kind] });

/** HandleFields edits one handle; with full, also what is seldom wanted. */
export function HandleFields({ h, part, full = false }: { h: Handle; part: (change: Partial<Handle>, kind?: string) => void; full?: boolean }) {
  const shaped = ["heart", "drop", "crescent", "slot", "notch"].includes(h.kind);
  const size: Partial<Record<Handle["kind"], string>> = { slot: "Slot's width", notch: "Notch's depth", hole: "Diameter", cord: "Diameter" };
  if (h.kind === "none") return null;
  if (h.kind === "bevel") {
    return (
      <>
        <Row>
          <LengthField label="Flat left at the edge" mm={h.flat ?? 0} onChange={(flat) => part({ flat }, "flat")} />
          <NumberField label="Angle from upright" unit="°" value={h.angle ?? 25} least={0} most={75} onChange={(angle) => part({ angle }, "angle")} />
          <Choice label="Along" value={h.where || "all"} options={[{ value: "ends", label: "the ends" }, { value: "sides", label: "the sides" }, { value: "all", label: "all round" }]} onChange={(where) => part({ where: where as Handle["where"] })} />
        </Row>
        <Tick label="On both faces, so that it can be turned over" value={h.both ?? false} onChange={(both) => part({ both })} />
      </>
    );
  }
  return (
    <>
      <Row>
        {h.kind !== "own" && <LengthField label={size[h.kind] ?? "Width"} mm={h.diameter} least={3} onChange={(diameter) => part({ diameter }, "diameter")} />}
        {shaped && <LengthField label={h.kind === "slot" ? "Slot's length" : "Length"} mm={h.length} least={5} onChange={(v) => part({ length: v }, "length")} />}
        <LengthField label="From the end" mm={h.setback} least={2} onChange={(setback) => part({ setback }, "setback")} />
        {h.kind !== "notch" && <LengthField label={h.local ? "Off the middle" : "Off centre"} signed mm={h.offset} onChange={(offset) => part({ offset }, "offset")} />}
      </Row>
      {full && (
        <Row>
          <Choice label="Measured from" value={h.far ? "far" : "handle"} options={[{ value: "handle", label: "the handle end" }, { value: "far", label: "the far end" }]} onChange={(v) => part({ far: v === "far" })} />
          {h.kind === "notch" ? (
            <Choice label="In the" value={h.right ? "right" : "left"} options={[{ value: "left", label: "left side" }, { value: "right", label: "right side" }]} onChange={(v) => part({ right: v === "right" })} />
          ) : (
            <>
              <Choice label="Centred on" value={h.local ? "local" : "line"} options={[{ value: "line", label: "the centre line" }, { value: "local", label: "the width there" }]} onChange={(v) => part({ local: v === "local", ...(v === "local" ? { offset: 0 } : {}) })} />
              {h.kind !== "hole" && h.kind !== "cord" && <NumberField label="Turned" unit="°" value={h.turn ?? 0} least={-360} most={360} onChange={(turn) => part({ turn }, "turn")} />}
            </>
          )}
        </Row>
      )}
    </>
  );
}

export function HandlesPart({ d, r, set, picked }: { d: Design; r: Reckoned; set: SetDesign; picked: string }) {
  const more = d.more ?? [];
  const kind = (k: number) => (value: Handle["kind"]) => set((now) => handleOf(now, value, k));
  return (
    <>
      {[d.handle, ...more].map((h, k) => (
        <div key={k} className="flaw-card p-2">
          <div className="d-flex align-items-end">
            <div className="flex-grow-1">
              <Choice label={k === 0 ? "Handle" : `Handle ${k + 1}`} value={h.kind} options={k === 0 ? handleNames : handleNames.slice(1)} onChange={kind(k)} />
            </div>
            {k > 0 && <RemoveButton what={`handle ${k + 1}`} onClick={() => set((now) => ({ more: cut(now.more ?? [], k - 1) }))} />}
          </div>
          <HandleFields h={h} full part={(change, name = "") => set((now) => setHandle(now, k, change), name && `handle-${k}-${name}`)} />
          {h.kind === "own" && (
            <>
              <p className="facts">{(h.nodes ?? []).length} points. Drag them, or pick one with [ and ] and use the arrows.</p>
              <PickedNode d={d} line={`own-${k}`} picked={picked} set={set} />
            </>
          )}
        </div>
      ))}
      <Button size="sm" variant="outline-primary" onClick={() => set((now) => ({ more: [...(now.more ?? []), { kind: "hole", diameter: 30, length: 90, setback: 45, offset: 0, far: true }] }))}>
        Another handle
      </Button>
      <Figures figures={r.figures.filter((f) => f.key === "handle.off")} />
    </>
  );
}
