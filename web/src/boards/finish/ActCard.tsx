// One coat or act of a finish: told in a line, and edited where it is opened.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Act, Reckoned } from "../../api/client";
import { Choice, NumberField, RemoveButton, Row, Tick } from "../../kit/fields";
import { Working } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { told, unitOf, units } from "./told";

type Coat = Reckoned["finish"]["coats"][number];

interface Props {
  act: Act;
  /** What the coat comes to; left out where nothing is put on. */
  coat?: Coat;
  number: number;
  open: boolean;
  onOpen: () => void;
  onChange: (part: Partial<Act>, kind?: string) => void;
  onRemove?: () => void;
  onUp?: () => void;
  onDown?: () => void;
}

export function ActCard({ act: a, coat, number, open, onOpen, onChange, onRemove, onUp, onDown }: Props) {
  const { value, tables } = useWorkshop();
  const wax = tables.products.find((p) => p.name === a.product)?.wax;
  const name = coat ? `${number}. ${a.product}` : a.sand ? "rub" : "wait";
  return (
    <li className={`act ${open ? "is-open" : ""}`}>
      <div className="act-head">
        <div className="act-name">
          <button type="button" className="text-link" aria-expanded={open} onClick={onOpen}>
            {name}
          </button>
          {a.on && a.on.length > 0 && <span className="facts">on {a.on.join(", ")}</span>}
          {a.early && <span className="facts">before the last raising</span>}
          {coat?.looked && (
            <span className="facts">{coat.looked === "dry" ? "it was dry again" : "it had enough"}</span>
          )}
        </div>
        <span className="act-tools">
          <button type="button" className="remove" aria-label={`Earlier: ${name}`} disabled={!onUp} onClick={onUp}>
            ↑
          </button>
          <button type="button" className="remove" aria-label={`Later: ${name}`} disabled={!onDown} onClick={onDown}>
            ↓
          </button>
          <RemoveButton what={name} disabled={!onRemove} onClick={() => onRemove?.()} />
        </span>
      </div>
      {coat && (
        <Working
          figure={coat.working}
          line={
            <>
              <span className="facts">{told(a, wax)}</span>
              <strong>{value(coat.used || coat.grams, "g")}</strong>
            </>
          }
        />
      )}
      {!coat && <span className="facts">{told(a, wax)}</span>}
      {open && <ActFields act={a} onChange={onChange} />}
    </li>
  );
}

function ActFields({ act: a, onChange }: { act: Act; onChange: Props["onChange"] }) {
  const { tables } = useWorkshop();
  const on = a.on ?? [];
  const begin = (name: string) => {
    const { product, soak, wipe, buff, early, wait } = tables.begins.find((b) => b.product === name)!;
    onChange({ product, soak, wipe, buff, early, face: 0, haze: 0, bath: false, wait: a.wait || wait });
  };
  return (
    <div className="act-fields">
      <Choice
        label="Product"
        value={a.product}
        options={[
          { value: "", label: "nothing: a wait or a rub" },
          ...tables.products.map((p) => ({ value: p.name, label: p.name })),
        ]}
        onChange={begin}
      />
      {a.product && (
        <>
          <fieldset className="coat-parts">
            <legend>On {on.length === 0 && <span className="facts">all of it</span>}</legend>
            {tables.coatParts.map((part) => (
              <Tick
                key={part}
                label={part}
                value={on.length === 0 || on.includes(part)}
                onChange={(yes) => {
                  const all = on.length === 0 ? tables.coatParts : on;
                  const next = yes ? [...all, part] : all.filter((p) => p !== part);
                  onChange({ on: next.length === tables.coatParts.length || next.length === 0 ? [] : next });
                }}
              />
            ))}
          </fieldset>
          <NumberField
            label="On face grain, 0 as usual"
            unit="g/m²"
            of="board.finish.list.face"
            value={a.face ?? 0}
            step={5}
            onChange={(face) => onChange({ face }, "face")}
          />
          <Span label="Soaks" of="soak" value={a.soak ?? 0} onChange={(soak) => onChange({ soak }, "soak")} />
          <Ticks act={a} onChange={onChange} />
          {a.buff && a.wipe && (
            <Span label="Hazes" of="haze" value={a.haze ?? 0} onChange={(haze) => onChange({ haze }, "haze")} />
          )}
        </>
      )}
      <Span label="Then waits" of="wait" value={a.wait ?? 0} onChange={(wait) => onChange({ wait }, "wait")} />
      <Row>
        <Choice
          label="Rubbed before what comes next"
          value={String(a.sand ?? 0)}
          options={[
            { value: "0", label: "not" },
            ...tables.rubGrits.map((g) => ({ value: String(g), label: `P${g}` })),
          ]}
          onChange={(g) => onChange({ sand: Number(g) })}
        />
      </Row>
      {(a.sand ?? 0) > 0 && <Tick label="Wet" value={a.wet ?? false} onChange={(wet) => onChange({ wet })} />}
    </div>
  );
}

/** Ticks are what is done with a coat, as far as its product may be. */
function Ticks({ act: a, onChange }: { act: Act; onChange: Props["onChange"] }) {
  const { tables } = useWorkshop();
  const may = tables.products.find((p) => p.name === a.product);
  return (
    <div className="d-flex gap-3 flex-wrap">
      <Tick label="Wiped off" value={a.wipe ?? false} onChange={(wipe) => onChange({ wipe })} />
      <Tick label="Buffed" value={a.buff ?? false} onChange={(buff) => onChange({ buff })} />
      {may?.tub && <Tick label="In the tub" value={a.bath ?? false} onChange={(bath) => onChange({ bath })} />}
      {(may?.early || a.early) && (
        <Tick label="Before the last raising" value={a.early ?? false} onChange={(early) => onChange({ early })} />
      )}
    </div>
  );
}

/** Span is a stretch of time in minutes, typed in the unit that suits it. */
function Span({
  label,
  of,
  value,
  onChange,
}: {
  label: string;
  of: string;
  value: number;
  onChange: (minutes: number) => void;
}) {
  const [unit, setUnit] = useState(() => unitOf(value));
  return (
    <div className="span-field">
      <NumberField
        label={label}
        of={`board.finish.list.${of}`}
        per={units[unit]}
        value={value / units[unit]}
        step={unit === "min" ? 5 : 1}
        onChange={(v) => onChange(v * units[unit])}
      />
      <div role="group" aria-label={`${label}, in`} className="d-flex gap-1">
        {(Object.keys(units) as (keyof typeof units)[]).map((u) => (
          <Button
            key={u}
            size="sm"
            variant={u === unit ? "primary" : "outline-primary"}
            aria-pressed={u === unit}
            onClick={() => setUnit(u)}
          >
            {u}
          </Button>
        ))}
      </div>
    </div>
  );
}
