// The flaws of a piece by numbers, for those who measure rather than point.
import Button from "react-bootstrap/Button";
import type { Flaw, Point, Slab } from "../api/client";
import { put, type Edit } from "../kit/document";
import { Choice, LengthField, NumberField, Row, Tick } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { RemoveButton } from "./Piece";

export const flawKinds: Record<string, string> = {
  crack: "Crack",
  knot: "Knot",
  bark: "Bark pocket",
  soft: "Soft wood",
  worm: "Worm holes",
  dent: "Dent",
  hole: "Old hole",
};

let serial = 0;
const newId = () => `${Date.now().toString(36)}-${(serial++).toString(36)}`;

/** newFlaw is a flaw of a kind from a to b: a line, or a place and its reach. */
export function newFlaw(kind: string, a: { x: number; y: number }, b: { x: number; y: number }, under: boolean): Flaw {
  const round = (v: number) => Math.round(v * 2) / 2;
  const reach = Math.max(2, Math.hypot(b.x - a.x, b.y - a.y));
  const base: Flaw = {
    id: newId(), kind: kind as Flaw["kind"], under, through: false, keepOut: false, depth: 10, width: 3, slot: false,
    centre: { x: round(a.x), y: round(a.y) }, a: 0, b: 0, angle: 0, count: 0, diameter: 0,
  };
  switch (kind) {
    case "crack":
      if (reach < 3) b = { x: a.x + 40, y: a.y }; // pressed without a drag
      return { ...base, line: [a, b].map((p) => ({ x: round(p.x), y: round(p.y) })) };
    case "bark":
    case "soft": {
      // An area round the drag; its corners may be set one by one.
      const rx = Math.max(4, Math.abs(b.x - a.x));
      const ry = Math.max(4, Math.abs(b.y - a.y) || rx * 0.6);
      const line = Array.from({ length: 10 }, (_, i) => ({ x: round(a.x + rx * Math.cos((i * Math.PI) / 5)), y: round(a.y + ry * Math.sin((i * Math.PI) / 5)) }));
      return { ...base, line };
    }
    case "knot":
      return { ...base, a: round(reach), b: round(reach * 0.75), state: "missing" };
    case "worm":
      return { ...base, a: round(reach), b: round(reach), count: 6, diameter: 2, depth: 6 };
    case "dent":
      return { ...base, a: round(reach), b: round(reach), depth: 2 };
  }
  return { ...base, a: round(Math.min(reach, 30)), b: round(Math.min(reach, 30)), through: true };
}

/** moved is a flaw shifted, its line and its centre together. */
export function moved(f: Flaw, dx: number, dy: number): Flaw {
  return {
    ...f,
    centre: { x: f.centre.x + dx, y: f.centre.y + dy },
    ...(f.line ? { line: f.line.map((p) => ({ x: p.x + dx, y: p.y + dy })) } : {}),
  };
}

/** changed changes the flaw of an id, if it is still there. */
const changed = (id: string, change: (now: Flaw) => Partial<Flaw>) => (now: Slab): Partial<Slab> => {
  const i = now.flaws.findIndex((o) => o.id === id);
  return i < 0 ? {} : { flaws: put(now.flaws, i, change(now.flaws[i])) };
};

interface Props {
  slab: Slab;
  set: Edit<Slab>;
  picked: string;
  onPick: (id: string) => void;
}

export function Flaws({ slab: s, set, picked, onPick }: Props) {
  const { length } = useWorkshop();
  const add = (kind: string) => {
    const middle = { x: s.length / 2, y: 0 };
    const f = newFlaw(kind, middle, { x: middle.x + (kind === "crack" ? 80 : 12), y: kind === "crack" ? 8 : 0 }, false);
    set((now) => ({ flaws: [...now.flaws, f] }));
    onPick(f.id);
  };
  return (
    <>
      <h2>Flaws</h2>
      {s.flaws.length === 0 && <p className="facts">None marked. Mark them on the wood, or add one by numbers.</p>}
      {s.flaws.map((f, i) => (
        <div key={f.id} className="flaw-card" data-flaw-card={f.id}>
          <div className="d-flex align-items-center">
            <button type="button" className="flaw-head" aria-expanded={picked === f.id} onClick={() => onPick(picked === f.id ? "" : f.id)}>
              {flawKinds[f.kind]} {i + 1}
              <span className="facts">
                {f.kind === "crack" ? `${length(f.width)} wide, ` : f.state ? `${f.state}, ` : ""}
                {f.through ? "through" : `${length(f.depth)} deep`}
              </span>
            </button>
            <RemoveButton what={`flaw ${i + 1}`} onClick={() => set((now) => ({ flaws: now.flaws.filter((o) => o.id !== f.id) }))} />
          </div>
          {picked === f.id && <FlawFields flaw={f} part={(change) => set(changed(f.id, change), `flaw-${f.id}`)} />}
        </div>
      ))}
      <div className="d-flex gap-1 flex-wrap mt-1">
        {Object.entries(flawKinds).map(([k, name]) => (
          <Button key={k} size="sm" variant="outline-primary" onClick={() => add(k)} aria-label={`Add ${name.toLowerCase()}`}>
            + {name}
          </Button>
        ))}
      </div>
    </>
  );
}

function FlawFields({ flaw: f, part: change }: { flaw: Flaw; part: (change: (now: Flaw) => Partial<Flaw>) => void }) {
  const part = (p: Partial<Flaw>) => change(() => p);
  const point = (i: number, p: Partial<Point>) => change((now) => ({ line: put(now.line ?? [], i, p) }));
  const line = f.line ?? [];
  return (
    <div className="flaw-fields">
      {f.kind === "knot" && <Choice label="The knot is" value={(f.state ?? "sound") as string} options={["sound", "loose", "missing"]} onChange={(state) => part({ state: state as Flaw["state"] })} />}
      {f.kind === "crack" && (
        <Row>
          <LengthField label="Width on the face" mm={f.width} onChange={(width) => part({ width })} />
          <Choice label="Shape" value={f.slot ? "slot" : "v"} options={[{ value: "v", label: "V-shaped" }, { value: "slot", label: "slot" }]} onChange={(v) => part({ slot: v === "slot" })} />
        </Row>
      )}
      {f.kind === "worm" && (
        <Row>
          <NumberField label="Holes" whole value={f.count} least={1} most={10000} onChange={(count) => part({ count })} />
          <LengthField label="Diameter" mm={f.diameter} onChange={(diameter) => part({ diameter })} />
        </Row>
      )}
      <Row>
        <LengthField label="Depth" mm={f.depth} onChange={(depth) => part({ depth })} />
        <Choice label="Opens on" value={f.under ? "under" : "show"} options={[{ value: "show", label: "show face" }, { value: "under", label: "under face" }]} onChange={(v) => part({ under: v === "under" })} />
      </Row>
      {line.length > 0 ? (
        line.map((p, i) => (
          <Row key={i}>
            <LengthField label={`Point ${i + 1}: from the butt`} signed mm={p.x} onChange={(x) => point(i, { x })} />
            <LengthField label="from the chalk line" signed mm={p.y} onChange={(y) => point(i, { y })} />
          </Row>
        ))
      ) : (
        <>
          <Row>
            <LengthField label="From the butt" mm={f.centre.x} onChange={(x) => change((now) => ({ centre: { ...now.centre, x } }))} />
            <LengthField label="From the chalk line" signed mm={f.centre.y} onChange={(y) => change((now) => ({ centre: { ...now.centre, y } }))} />
          </Row>
          <Row>
            <LengthField label="Half along" mm={f.a} onChange={(a) => part({ a })} />
            <LengthField label="Half across" mm={f.b} onChange={(b) => part({ b })} />
            <NumberField label="Turned" unit="°" value={f.angle} least={-360} most={360} onChange={(angle) => part({ angle })} />
          </Row>
        </>
      )}
      <Tick label="Goes through" value={f.through} onChange={(through) => part({ through })} />
      <Tick label="Keep it out of every board" value={f.keepOut} onChange={(keepOut) => part({ keepOut })} />
    </div>
  );
}
