// The clamps that hold a glue-up together.
import Button from "react-bootstrap/Button";
import type { Shop } from "../api/client";
import { Choice, LengthField, NumberField, RemoveButton, Row } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";

export function Clamps({ shop, set }: { shop: Shop; set: (change: Partial<Shop>, kind?: string) => void }) {
  const { tables, value } = useWorkshop();
  const clamps = shop.clamps ?? [];
  type Of = (typeof clamps)[number];
  const change = (i: number, part: Partial<Of>) =>
    set({ clamps: put(clamps, i, part) }, `clamps-${i}-${Object.keys(part)[0]}`);
  return (
    <section>
      <h2>Clamps</h2>
      {clamps.map((c, i) => (
        <Row key={i}>
          <Choice
            label={`Clamps ${i + 1}`}
            value={c.kind}
            options={tables.clamps.map((k) => ({ value: k.kind, label: `${k.kind}, ${value(k.rating, "N")}` }))}
            onChange={(kind) => change(i, { kind: kind as Of["kind"] })}
          />
          <LengthField
            label="They open"
            of="shop.clamps.length"
            mm={c.length}
            onChange={(length) => change(i, { length })}
          />
          <NumberField
            label="How many"
            whole
            of="shop.clamps.count"
            value={c.count}
            onChange={(count) => change(i, { count })}
          />
          <RemoveButton what={`clamps ${i + 1}`} onClick={() => set({ clamps: cut(clamps, i) })} />
        </Row>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set({ clamps: [...clamps, { kind: "bar clamp", length: 600, count: 2 }] })}
      >
        Add clamps
      </Button>
    </section>
  );
}
