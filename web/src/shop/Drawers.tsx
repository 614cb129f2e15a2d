// What lies in the drawers: grits, bits and blades, each drawn to scale in its row.
import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import type { Bit, Blade, RouterBit, Shop } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, LengthField, Row, TextField, wordsOf } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";
import { Finishes } from "./Finishes";
import { BitShape, BladeShape, RouterBitShape, RoundShape } from "./shapes";

interface Props {
  shop: Shop;
  set: Edit<Shop>;
}

export function Drawers({ shop: s, set }: Props) {
  return (
    <>
      <Grits shop={s} set={set} />
      <BoringBits shop={s} set={set} />
      <RouterBits shop={s} set={set} />
      <Blades shop={s} set={set} />
      <Rounds shop={s} set={set} />
      <AtHand shop={s} set={set} />
      <Finishes shop={s} set={set} />
    </>
  );
}

interface RackProps<T> {
  title: string;
  /** What one of them is called. */
  what: string;
  items: T[];
  draw: (item: T) => ReactNode;
  name: (item: T) => string;
  fields: (item: T, change: (part: Partial<T>) => void) => ReactNode;
  onChange: (items: T[], kind?: string) => void;
  fresh: T;
  more?: ReactNode;
}

/** Rack is a row of things drawn to scale, of which the one that is taken up shows its fields. */
function Rack<T extends object>({ title, what, items, draw, name, fields, onChange, fresh, more }: RackProps<T>) {
  const [taken, setTaken] = useState<number | null>(null);
  const up = taken !== null && taken < items.length ? taken : null;
  return (
    <section className="rack-row">
      <h2>{title}</h2>
      <div className="rack-items">
        {items.map((o, i) => (
          <button
            key={i}
            type="button"
            className="rack-item"
            aria-pressed={up === i}
            aria-label={`${what} ${i + 1}, ${name(o)}`}
            onClick={() => setTaken(up === i ? null : i)}
          >
            {draw(o)}
            <span>{name(o)}</span>
          </button>
        ))}
        {items.length === 0 && <p className="facts">None is listed.</p>}
      </div>
      {up !== null && (
        <div className="rack-fields">
          <Row>
            {fields(items[up], (part) => onChange(put(items, up, part), `${what}-${up}-${Object.keys(part)[0]}`))}
          </Row>
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => {
              setTaken(null);
              onChange(cut(items, up));
            }}
          >
            Take it out
          </Button>
        </div>
      )}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          setTaken(items.length);
          onChange([...items, fresh]);
        }}
      >
        Add a {what.toLowerCase()}
      </Button>{" "}
      {more}
    </section>
  );
}

function Grits({ shop: s, set }: Props) {
  const { tables } = useWorkshop();
  return (
    <section className="rack-row">
      <h2>Grits</h2>
      <div className="d-flex gap-1 flex-wrap">
        {tables.grits.map((g) => (
          <Button
            key={g}
            size="sm"
            variant={s.grits.includes(g) ? "primary" : "outline-primary"}
            aria-pressed={s.grits.includes(g)}
            onClick={() =>
              set({
                grits: s.grits.includes(g) ? s.grits.filter((o) => o !== g) : [...s.grits, g].sort((a, b) => a - b),
              })
            }
          >
            P{g}
          </Button>
        ))}
      </div>
    </section>
  );
}

function BoringBits({ shop: s, set }: Props) {
  const { tables, unit, value } = useWorkshop();
  const usual = tables.bits[unit].filter((b) => !s.bits.some((o) => o.diameter === b.diameter));
  return (
    <Rack<Bit>
      title="Boring bits"
      what="Boring bit"
      items={s.bits}
      draw={(b) => <BitShape {...b} />}
      name={(b) => value(b.diameter, "bit")}
      fresh={usual[0] ?? tables.bits[unit][0]}
      onChange={(bits, kind) => set({ bits }, kind)}
      more={
        usual.length > 1 && (
          <Button
            size="sm"
            variant="outline-primary"
            onClick={() => set({ bits: [...s.bits, ...usual].sort((a, b) => a.diameter - b.diameter) })}
          >
            Add the usual {unit === "in" ? "inch" : "metric"} bits
          </Button>
        )
      }
      fields={(b, change) => (
        <>
          <Choice
            label="Kind"
            value={b.kind}
            options={wordsOf(tables.bitKinds)}
            onChange={(kind) => change({ kind })}
          />
          <LengthField
            label="Diameter"
            of="shop.bits.diameter"
            mm={b.diameter}
            size
            onChange={(diameter) => change({ diameter })}
          />
          <LengthField
            label="Bores deep"
            of="shop.bits.length"
            mm={b.length}
            onChange={(length) => change({ length })}
          />
        </>
      )}
    />
  );
}

function RouterBits({ shop: s, set }: Props) {
  const { tables, value } = useWorkshop();
  const bits = s.router?.bits ?? [];
  return (
    <Rack<RouterBit>
      title="Router bits"
      what="Router bit"
      items={bits}
      draw={(b) => <RouterBitShape {...b} />}
      name={(b) => `${b.kind} ${value(b.diameter, "bit")}`}
      fresh={{ kind: "straight", diameter: 10, length: 25, shank: 6 }}
      onChange={(next, kind) => set((now) => ({ router: { ...(now.router ?? { base: 0 }), bits: next } }), kind)}
      fields={(b, change) => (
        <>
          <Choice
            label="Kind"
            value={b.kind}
            options={wordsOf(tables.routerBits)}
            onChange={(kind) => change({ kind })}
          />
          <LengthField
            label="Diameter"
            of="shop.router.bits.diameter"
            mm={b.diameter}
            size
            onChange={(diameter) => change({ diameter })}
          />
          <LengthField
            label="Cuts"
            of="shop.router.bits.length"
            mm={b.length}
            onChange={(length) => change({ length })}
          />
          <LengthField
            label="Bearing"
            of="shop.router.bits.bearing"
            mm={b.bearing ?? 0}
            size
            onChange={(bearing) => change({ bearing })}
          />
          <LengthField
            label="Shank"
            of="shop.router.bits.shank"
            mm={b.shank ?? 0}
            size
            onChange={(shank) => change({ shank })}
          />
        </>
      )}
    />
  );
}

function Blades({ shop: s, set }: Props) {
  const { tables, length } = useWorkshop();
  const missing = tables.blades.filter((b) => !s.blades.some((o) => o.name === b.name));
  return (
    <Rack<Blade>
      title="Blades that saw curves"
      what="Blade"
      items={s.blades}
      draw={(b) => <BladeShape {...b} />}
      name={(b) => `${b.name}, turns ${length(b.radius)}`}
      fresh={missing[0] ?? tables.blades[0]}
      onChange={(blades, kind) => set({ blades }, kind)}
      more={missing.slice(1).map((b) => (
        <Button key={b.name} size="sm" variant="outline-primary" onClick={() => set({ blades: [...s.blades, b] })}>
          Add {b.name}
        </Button>
      ))}
      fields={(b, change) => (
        <>
          <TextField label="Name" value={b.name} onChange={(name) => change({ name })} />
          <Choice
            label="Goes into"
            value={b.saw}
            options={["band saw", "jigsaw"]}
            onChange={(saw) => change({ saw })}
          />
          <LengthField
            label="Width"
            of="shop.blades.width"
            mm={b.width ?? 0}
            size
            onChange={(width) => change({ width })}
          />
          <LengthField
            label="Turns, at the least"
            of="shop.blades.radius"
            mm={b.radius}
            onChange={(radius) => change({ radius })}
          />
        </>
      )}
    />
  );
}

/** Rounds are the drums that sand hollows, by radius, and the guide bushes, by diameter. */
function Rounds({ shop: s, set }: Props) {
  const { value, length } = useWorkshop();
  const wrap = (sizes: number[]) => sizes.map((mm) => ({ mm }));
  const plain = (items: { mm: number }[]) => items.map((o) => o.mm);
  return (
    <>
      <Rack<{ mm: number }>
        title="Drums and spindles that sand hollows"
        what="Drum"
        items={wrap(s.drums ?? [])}
        draw={(o) => <RoundShape radius={o.mm} />}
        name={(o) => `radius ${length(o.mm)}`}
        fresh={{ mm: 20 }}
        onChange={(items, kind) => set({ drums: plain(items) }, kind)}
        fields={(o, change) => (
          <LengthField label="Radius" of="shop.drums" mm={o.mm} size onChange={(mm) => change({ mm })} />
        )}
      />
      <Rack<{ mm: number }>
        title="Guide bushes"
        what="Bush"
        items={wrap(s.router?.bushes ?? [])}
        draw={(o) => <RoundShape radius={o.mm / 2} hollow />}
        name={(o) => value(o.mm, "bit")}
        fresh={{ mm: 20 }}
        onChange={(items, kind) =>
          set((now) => ({ router: { ...(now.router ?? { base: 0 }), bushes: plain(items) } }), kind)
        }
        fields={(o, change) => (
          <LengthField
            label="Outer diameter"
            of="shop.router.bushes"
            mm={o.mm}
            size
            onChange={(mm) => change({ mm })}
          />
        )}
      />
    </>
  );
}

/** AtHand are the things that corners are drawn round, by name. */
function AtHand({ shop: s, set }: Props) {
  return (
    <Rack<NonNullable<Shop["rounds"]>[number]>
      title="Things at hand, to draw a corner round"
      what="Thing"
      items={s.rounds ?? []}
      draw={(o) => <RoundShape radius={Math.min(o.radius, 60)} hollow />}
      name={(o) => o.name}
      fresh={{ name: "jar lid", radius: 35 }}
      onChange={(rounds, kind) => set({ rounds }, kind)}
      fields={(o, change) => (
        <>
          <TextField label="Name" value={o.name} onChange={(name) => change({ name })} />
          <LengthField label="Radius" of="shop.rounds.radius" mm={o.radius} onChange={(radius) => change({ radius })} />
        </>
      )}
    />
  );
}
