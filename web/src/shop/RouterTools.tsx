// The router with its bits and bushes, and the drums that sand hollows.
import Button from "react-bootstrap/Button";
import type { Router, RouterBit, Shop } from "../api/client";
import { Choice, LengthField, RemoveButton, Row, wordsOf } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";

/** Sizes is a list of lengths that grows and shrinks. */
interface SizesProps {
  legend: string;
  what: string;
  /** Path of their range. */
  of: string;
  sizes: number[];
  usual: number;
  onChange: (s: number[]) => void;
}

function Sizes({ legend, what, of, sizes, usual, onChange }: SizesProps) {
  return (
    <fieldset>
      <legend>{legend}</legend>
      <div className="bits">
        {sizes.map((b, i) => (
          <span key={i} className="d-flex">
            <LengthField
              label={`${what} ${i + 1}`}
              hideLabel
              of={of}
              mm={b}
              size
              onChange={(v) => onChange(sizes.map((o, k) => (k === i ? v : o)))}
            />
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
  const { tables } = useWorkshop();
  const r: Router = shop.router ?? { base: 150 };
  const bits = r.bits ?? [];
  const router = (part: Partial<Router>, kind = "") => set({ router: { ...r, ...part } }, kind);
  const bit = (i: number, part: Partial<RouterBit>) => router({ bits: put(bits, i, part) }, `router-${i}`);
  return (
    <section>
      <h2>Router and drums</h2>
      <LengthField
        label="Width of the router's base"
        of="shop.router.base"
        mm={r.base}
        onChange={(base) => router({ base }, "base")}
      />
      {bits.map((b, i) => (
        <Row key={i}>
          <Choice
            label={`Router bit ${i + 1}`}
            value={b.kind}
            options={wordsOf(tables.routerBits)}
            onChange={(kind) => bit(i, { kind })}
          />
          <LengthField
            label="Diameter"
            of="shop.router.bits.diameter"
            mm={b.diameter}
            size
            onChange={(diameter) => bit(i, { diameter })}
          />
          <LengthField
            label="Cuts"
            of="shop.router.bits.length"
            mm={b.length}
            onChange={(length) => bit(i, { length })}
          />
          <LengthField
            label="Bearing"
            of="shop.router.bits.bearing"
            mm={b.bearing ?? 0}
            size
            onChange={(bearing) => bit(i, { bearing })}
          />
          <RemoveButton what={`router bit ${i + 1}`} onClick={() => router({ bits: cut(bits, i) })} />
        </Row>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => router({ bits: [...bits, { kind: "straight", diameter: 10, length: 25 }] })}
      >
        Add a router bit
      </Button>
      <Sizes
        legend="Guide bushes"
        what="Bush"
        of="shop.router.bushes"
        sizes={r.bushes ?? []}
        usual={20}
        onChange={(bushes) => router({ bushes }, "bushes")}
      />
      <Sizes
        legend="Drums and spindles, by radius"
        what="Drum"
        of="shop.drums"
        sizes={shop.drums ?? []}
        usual={20}
        onChange={(drums) => set({ drums }, "drums")}
      />
    </section>
  );
}
