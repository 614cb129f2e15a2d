// The router with its bits and bushes, and the drums that sand hollows.
import Button from "react-bootstrap/Button";
import type { Router, RouterBit, Shop } from "../api/client";
import { Choice, LengthField, RemoveButton, Row } from "../kit/fields";
import { cut, put } from "../kit/items";

const kinds = ["straight", "flush trim", "round nose", "round-over", "chamfer"] as const;

/** Sizes is a list of lengths that grows and shrinks. */
function Sizes({ legend, what, sizes, usual, onChange }: { legend: string; what: string; sizes: number[]; usual: number; onChange: (s: number[]) => void }) {
  return (
    <fieldset>
      <legend>{legend}</legend>
      <div className="bits">
        {sizes.map((b, i) => (
          <span key={i} className="d-flex">
            <LengthField label={`${what} ${i + 1}`} hideLabel mm={b} least={1} onChange={(v) => onChange(sizes.map((o, k) => (k === i ? v : o)))} />
            <RemoveButton what={`${what.toLowerCase()} ${i + 1}`} onClick={() => onChange(cut(sizes, i))} />
          </span>
        ))}
      </div>
      <Button size="sm" variant="outline-primary" onClick={() => onChange([...sizes, usual])}>
        Add a {what.toLowerCase()}
      </Button>
    </fieldset>
  );
}

export function RouterTools({ shop, set }: { shop: Shop; set: (change: Partial<Shop>, kind?: string) => void }) {
  const r: Router = shop.router ?? { base: 150 };
  const bits = r.bits ?? [];
  const router = (part: Partial<Router>, kind = "") => set({ router: { ...r, ...part } }, kind);
  const bit = (i: number, part: Partial<RouterBit>) => router({ bits: put(bits, i, part) }, `router-${i}`);
  return (
    <section>
      <h2>Router and drums</h2>
      <LengthField label="Width of the router's base" mm={r.base} onChange={(base) => router({ base }, "base")} />
      {bits.map((b, i) => (
        <Row key={i}>
          <Choice label={`Router bit ${i + 1}`} value={b.kind} options={kinds} onChange={(kind) => bit(i, { kind })} />
          <LengthField label="Diameter" mm={b.diameter} least={1} onChange={(diameter) => bit(i, { diameter })} />
          <LengthField label="Cuts" mm={b.length} least={1} onChange={(length) => bit(i, { length })} />
          <LengthField label="Bearing" mm={b.bearing ?? 0} onChange={(bearing) => bit(i, { bearing })} />
          <RemoveButton what={`router bit ${i + 1}`} onClick={() => router({ bits: cut(bits, i) })} />
        </Row>
      ))}
      <Button size="sm" variant="outline-primary" onClick={() => router({ bits: [...bits, { kind: "straight", diameter: 10, length: 25 }] })}>
        Add a router bit
      </Button>
      <Sizes legend="Guide bushes" what="Bush" sizes={r.bushes ?? []} usual={20} onChange={(bushes) => router({ bushes }, "bushes")} />
      <Sizes legend="Drums and spindles, by radius" what="Drum" sizes={shop.drums ?? []} usual={20} onChange={(drums) => set({ drums }, "drums")} />
    </section>
  );
}
