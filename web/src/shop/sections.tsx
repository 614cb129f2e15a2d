// What the shop is made of, section by section.
import Button from "react-bootstrap/Button";
import type { Shop } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField, Tick } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";
import { Instruments } from "./Instruments";

const days = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];

interface Props {
  shop: Shop;
  set: Edit<Shop>;
}

/** House is what the workshop is called, and how it measures. */
export function House({ shop: s, set }: Props) {
  return (
    <section>
      <h2>House</h2>
      <TextField label="Name" value={s.name} onChange={(name) => set({ name }, "name")} />
      <Row>
        <Choice
          label="Units"
          value={s.units}
          options={[
            { value: "mm", label: "millimetres" },
            { value: "in", label: "inches" },
          ]}
          onChange={(units) => set({ units })}
        />
        <Choice label="Paper" value={s.paper} options={["A4", "Letter"]} onChange={(paper) => set({ paper })} />
      </Row>
      <Row>
        <Following
          label="Weights and liquids"
          value={s.mass ?? ""}
          now={s.units === "in" ? "oz, lb" : "g, kg"}
          others={{ g: "g, kg, ml", oz: "oz, lb, fl oz" }}
          onChange={(mass) => set({ mass })}
        />
        <Following
          label="Warmth"
          value={s.warmth ?? ""}
          now={s.units === "in" ? "°F" : "°C"}
          others={{ "°C": "°C", "°F": "°F" }}
          onChange={(warmth) => set({ warmth })}
        />
      </Row>
      <TextField
        label="Time zone"
        value={s.timeZone}
        list={Intl.supportedValuesOf("timeZone").concat("UTC")}
        onChange={(timeZone) => set({ timeZone })}
      />
    </section>
  );
}

interface FollowingProps<T extends string> {
  label: string;
  value: T | "";
  /** What following the units means just now. */
  now: string;
  others: Record<T, string>;
  onChange: (v: T | "") => void;
}

/** Following is a choice that goes with the units unless it is made. */
function Following<T extends string>({ label, value, now, others, onChange }: FollowingProps<T>) {
  const options = Object.entries<string>(others).map(([v, words]) => ({ value: v as T | "", label: words }));
  return (
    <Choice
      label={label}
      value={value}
      options={[{ value: "" as T | "", label: `as the units: ${now}` }, ...options]}
      onChange={onChange}
    />
  );
}

/** Climate is the air in the shop and in the homes that boards go to. */
export function Climate({ shop: s, set }: Props) {
  return (
    <section>
      <h2>Air</h2>
      <Air label="In the shop" air={s.air} onChange={(air, kind) => set({ air }, kind)} />
      <Air
        label="Home, heating season"
        air={s.home.heating}
        onChange={(heating, kind) => set({ home: { ...s.home, heating } }, `h${kind}`)}
      />
      <Air
        label="Home, summer"
        air={s.home.summer}
        onChange={(summer, kind) => set({ home: { ...s.home, summer } }, `s${kind}`)}
      />
    </section>
  );
}

/** Meter is the moisture meter, and the instruments that are read. */
export function Meter({ shop: s, set }: Props) {
  return (
    <section>
      <h2>Moisture meter</h2>
      <Row>
        <NumberField
          label="Correction"
          unit="points"
          of="shop.meter.correction"
          value={s.meter?.correction ?? 0}
          step={0.1}
          onChange={(correction) => set((now) => ({ meter: { lowest: now.meter?.lowest ?? 0, correction } }), "meter")}
        />
        <NumberField
          label="Shows nothing true below"
          unit="%"
          of="shop.meter.lowest"
          value={s.meter?.lowest ?? 0}
          step={0.5}
          onChange={(lowest) => set((now) => ({ meter: { correction: now.meter?.correction ?? 0, lowest } }), "meter")}
        />
      </Row>
      <p className="facts">
        The correction is added to new readings, for the species and the temperature that the meter was not made for.
      </p>
      <Instruments onAir={(air) => set({ air }, "air")} />
    </section>
  );
}

/** Sessions are the hours at the bench. */
export function Sessions({ shop: s, set }: Props) {
  return (
    <section>
      <h2>Hours at the bench</h2>
      {s.sessions.map((x, i) => {
        const change = (part: Partial<typeof x>) =>
          set((now) => ({ sessions: put(now.sessions, i, part) }), `session-${i}`);
        return (
          <Row key={i}>
            <Choice
              label="Day"
              hideLabel
              value={String(x.weekday)}
              options={days.map((name, n) => ({ value: String(n), label: name }))}
              onChange={(v) => change({ weekday: Number(v) })}
            />
            <input
              className="form-control form-control-sm time"
              type="time"
              aria-label={`Start of session ${i + 1}`}
              value={x.start}
              onChange={(e) => change({ start: e.target.value })}
            />
            <input
              className="form-control form-control-sm time"
              type="time"
              aria-label={`End of session ${i + 1}`}
              value={x.end}
              onChange={(e) => change({ end: e.target.value })}
            />
            <RemoveButton
              what={`session ${i + 1}`}
              onClick={() => set((now) => ({ sessions: cut(now.sessions, i) }))}
            />
          </Row>
        );
      })}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set({ sessions: [...s.sessions, { weekday: 0, start: "09:00", end: "12:00" }] })}
      >
        Add a session
      </Button>
    </section>
  );
}

/** Machines are what stands in the shop, and its blades. */
export function Machines({ shop: s, set }: Props) {
  const { tables } = useWorkshop();
  const machines = (change: Partial<Shop["machines"]>, kind: string) =>
    set((now) => ({ machines: { ...now.machines, ...change } }), kind);
  return (
    <section>
      <h2>Machines</h2>
      <p className="facts">Zero where there is none.</p>
      <Row>
        <LengthField
          label="Planer's width"
          of="shop.machines.planerWidth"
          mm={s.machines.planerWidth}
          onChange={(v) => machines({ planerWidth: v }, "pw")}
        />
        <LengthField
          label="Its shortest piece"
          of="shop.machines.planerShortest"
          mm={s.machines.planerShortest}
          onChange={(v) => machines({ planerShortest: v }, "ps")}
        />
      </Row>
      <Row>
        <LengthField
          label="Cross-cut"
          of="shop.machines.crossCut"
          mm={s.machines.crossCut}
          onChange={(v) => machines({ crossCut: v }, "cc")}
        />
        <LengthField
          label="Thickest to saw"
          of="shop.machines.sawThickness"
          mm={s.machines.sawThickness}
          onChange={(v) => machines({ sawThickness: v }, "st")}
        />
        <LengthField
          label="Drill's travel"
          of="shop.machines.drillTravel"
          mm={s.machines.drillTravel ?? 0}
          onChange={(v) => machines({ drillTravel: v }, "dt")}
        />
        <NumberField
          label="Scale's step"
          unit="g"
          of="shop.scaleStep"
          value={s.scaleStep}
          step={0.1}
          onChange={(scaleStep) => set({ scaleStep }, "scale")}
        />
      </Row>
      <fieldset>
        <legend>Blades that saw curves</legend>
        {tables.blades.map((b) => {
          const owned = s.blades.some((o) => o.name === b.name);
          return (
            <Tick
              key={b.name}
              label={b.name}
              value={owned}
              onChange={(v) => set({ blades: v ? [...s.blades, b] : s.blades.filter((o) => o.name !== b.name) })}
            />
          );
        })}
      </fieldset>
    </section>
  );
}

/** Drawers hold grits and bits. */
export function Drawers({ shop: s, set }: Props) {
  const { tables, unit } = useWorkshop();
  const usual = tables.bits[unit].filter((b) => !s.bits.includes(b)); // that are not in the drawer yet
  const add = (bits: number[]) => set((now) => ({ bits: [...now.bits, ...bits].sort((a, b) => a - b) }));
  return (
    <section>
      <h2>Drawers</h2>
      <fieldset>
        <legend>Grits</legend>
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
      </fieldset>
      <fieldset>
        <legend>Boring bits</legend>
        <div className="bits">
          {s.bits.map((b, i) => (
            <span key={i} className="d-flex">
              <LengthField
                label={`Bit ${i + 1}`}
                hideLabel
                of="shop.bits"
                mm={b}
                size
                onChange={(v) => set((now) => ({ bits: now.bits.map((o, k) => (k === i ? v : o)) }), `bit-${i}`)}
              />
              <RemoveButton what={`bit ${i + 1}`} onClick={() => set((now) => ({ bits: cut(now.bits, i) }))} />
            </span>
          ))}
        </div>
        <Button size="sm" variant="outline-primary" className="me-1" onClick={() => add([usual[0] ?? 12])}>
          Add a bit
        </Button>
        {usual.length > 1 && (
          <Button size="sm" variant="outline-primary" onClick={() => add(usual)}>
            Add the usual {unit === "in" ? "inch" : "metric"} bits
          </Button>
        )}
      </fieldset>
    </section>
  );
}

/** Rules are the rules of thumb, as this shop holds them. */
export function Rules({ shop: s, set }: Props) {
  const { tables, words } = useWorkshop();
  return (
    <section className="rules">
      <h2>Rules of thumb</h2>
      <p className="facts">What rests on one is shown as an estimate. Set them to your own habit.</p>
      {tables.rules.map((r) => {
        const now = s.rules[r.key] ?? r.usual;
        const follow = (v: number) => set((was) => ({ rules: { ...was.rules, [r.key]: v } }), r.key);
        return r.unit === "mm" ? (
          <LengthField key={r.key} label={r.label} mm={now} least={r.min} onChange={follow} />
        ) : (
          <NumberField
            key={r.key}
            label={words(r.label)}
            unit={r.unit}
            value={now}
            least={r.min}
            most={r.max}
            step={r.max <= 5 ? 0.05 : 1}
            onChange={follow}
          />
        );
      })}
    </section>
  );
}

function Air({
  label,
  air,
  onChange,
}: {
  label: string;
  air: Shop["air"];
  onChange: (a: Shop["air"], kind: string) => void;
}) {
  return (
    <fieldset>
      <legend>{label}</legend>
      <Row>
        <NumberField
          label="Temperature"
          unit="°C"
          of="shop.air.temperature"
          value={air.temperature}
          onChange={(temperature) => onChange({ ...air, temperature }, "t")}
        />
        <NumberField
          label="Humidity"
          unit="%"
          of="shop.air.humidity"
          value={air.humidity}
          onChange={(humidity) => onChange({ ...air, humidity }, "h")}
        />
      </Row>
    </fieldset>
  );
}
