// What the shop is made of, section by section.
import Button from "react-bootstrap/Button";
import type { Shop } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField } from "../kit/fields";
import { cut, put } from "../kit/items";
import { Instruments } from "./Instruments";

const days = ["Sun", "Mon", "Tue", "Wed", "Thu", "Fri", "Sat"];

export interface Props {
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

/** HandOf is the maker's hand, for which grips are made. */
export function HandOf({ shop: s, set }: Props) {
  const hand = s.hand ?? {};
  return (
    <section>
      <h2>Your hand</h2>
      <p className="facts">Slots are judged by it. Zero for a usual one.</p>
      <Row>
        <LengthField
          label="Across four fingers"
          of="shop.hand.breadth"
          mm={hand.breadth ?? 0}
          onChange={(breadth) => set((now) => ({ hand: { ...now.hand, breadth } }), "hand")}
        />
        <LengthField
          label="Fingers at their thickest"
          of="shop.hand.thick"
          mm={hand.thick ?? 0}
          onChange={(thick) => set((now) => ({ hand: { ...now.hand, thick } }), "hand-thick")}
        />
      </Row>
    </section>
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
      <h2>Meter, scale and room sensor</h2>
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
      <Row>
        <NumberField
          label="Scale's step"
          unit="g"
          of="shop.scaleStep"
          value={s.scaleStep}
          step={0.1}
          onChange={(scaleStep) => set({ scaleStep }, "scale")}
        />
        <NumberField
          label="It bears"
          unit="g"
          of="shop.scaleMost"
          value={s.scaleMost ?? 0}
          step={100}
          onChange={(scaleMost) => set({ scaleMost }, "scale-most")}
        />
        <NumberField
          label="Mixing cup holds"
          unit="ml"
          of="shop.cup"
          value={s.cup ?? 0}
          step={50}
          onChange={(cup) => set({ cup }, "cup")}
        />
      </Row>
      <p className="facts">Resin is split into batches that the scale and the cup hold; 0 where you do not know.</p>
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
            {(s.helpers ?? []).length > 0 && (
              <Choice
                label={`Whose session ${i + 1} is`}
                hideLabel
                value={x.who ?? ""}
                options={[{ value: "", label: "yours" }, ...(s.helpers ?? []).map((h) => h.name)]}
                onChange={(who) => change({ who: who || undefined })}
              />
            )}
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
