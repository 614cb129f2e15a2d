// Whether a piece is ready: its log, typed or taken from the meter, where it is
// heading, the home it goes to, and how its grain will make it move.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Slab, Wood } from "../api/client";
import { type Edit } from "../kit/document/useDocument";
import { cut, put } from "../kit/items";
import { Choice, NumberField, RemoveButton, Row, Tick } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { EndGrain } from "./EndGrain";
import { Meter } from "./Meter";

interface Props {
  id: string;
  slab: Slab;
  wood: Wood;
  set: Edit<Slab>;
}

export function Moisture({ id, slab: s, wood, set }: Props) {
  const { time, shop } = useWorkshop();
  const log = (m: Slab["moisture"][number]) =>
    set((now) => ({ moisture: [...now.moisture, m].sort((a, b) => a.at.localeCompare(b.at)) }));
  return (
    <>
      <h2>Moisture log</h2>
      {s.moisture.length === 0 && (
        <p className="facts">Nothing read yet. Read it more than once, days apart, at several places.</p>
      )}
      {s.moisture.map((m, i) => (
        <Row key={i}>
          <span className="field flex-grow-1 read-on">
            {time(m.at, false)}
            {m.by && <span className="facts"> {m.by}</span>}
            {!!m.correction && (
              <span className="facts"> {m.correction > 0 ? `+${m.correction}` : m.correction} corrected</span>
            )}
          </span>
          <NumberField
            label="Moisture"
            unit="%"
            hideLabel
            of="piece.moisture.percent"
            value={m.percent}
            step={0.1}
            onChange={(percent) => set((now) => ({ moisture: put(now.moisture, i, { percent }) }), `moisture-${i}`)}
          />
          <Tick
            label="below range"
            value={m.below}
            onChange={(below) => set((now) => ({ moisture: put(now.moisture, i, { below }) }))}
          />
          <RemoveButton
            what={`moisture reading ${i + 1}`}
            onClick={() => set((now) => ({ moisture: cut(now.moisture, i) }))}
          />
        </Row>
      ))}
      <NewMoisture
        onAdd={(day, percent) =>
          log({
            at: `${day}T12:00:00Z`,
            percent,
            below: percent < (shop.meter?.lowest ?? 0),
            correction: shop.meter?.correction || undefined,
          })
        }
      />
      <Meter
        piece={id}
        onLog={(r) =>
          // What lies below the range is kept as such: its number stands for nothing.
          log({
            at: r.at,
            percent: r.below ? Math.max(0.5, shop.meter?.lowest ?? 5) : r.percent,
            below: r.below,
            correction: shop.meter?.correction || undefined,
            by: r.name,
          })
        }
      />

      <Home slab={s} wood={wood} set={set} />
      <Thinner wood={wood} />
      <h2>End grain</h2>
      <EndGrain
        angle={s.ringAngle}
        radius={s.ringRadius ?? 0}
        onChange={(ringAngle, ringRadius) => set({ ringAngle, ringRadius }, "rings")}
      />
    </>
  );
}

/** DryingWords tells where a piece is heading. */
export function DryingWords({ wood }: { wood: Wood }) {
  const { time } = useWorkshop();
  const d = wood.drying;
  if (wood.ready) return null;
  if (!d.known) return <p className="facts">Two readings on different days are needed before a trend is claimed.</p>;
  if (d.never) {
    return (
      <p className="facts">
        The shop&apos;s air would bring it to {d.emc.toFixed(1)} %: it will not get there here. Warm or dry the room, or
        store it where it will live.
      </p>
    );
  }
  if (d.days <= 0) return null;
  const thinnest = d.thinner.at(-1);
  return (
    <p className="facts">
      At this pace it reaches the home&apos;s band in {Math.round(d.low)} to {Math.round(d.high)} days, about{" "}
      {d.readyAt ? time(d.readyAt, false) : "then"}.
      {thinnest && ` Milled to half as thick it takes about ${Math.round(thinnest.days)}.`}
    </p>
  );
}

function NewMoisture({ onAdd }: { onAdd: (day: string, percent: number) => void }) {
  const today = () => new Date().toISOString().slice(0, 10);
  const [day, setDay] = useState(today);
  const [percent, setPercent] = useState(10);
  return (
    <Row>
      <div className="field">
        <label className="form-label" htmlFor="moisture-day">
          Day
        </label>
        <input
          id="moisture-day"
          className="form-control form-control-sm"
          type="date"
          max={today()}
          value={day}
          onChange={(e) => setDay(e.target.value)}
        />
      </div>
      <NumberField
        label="Meter"
        unit="%"
        of="piece.moisture.percent"
        value={percent}
        step={0.1}
        onChange={setPercent}
      />
      <Button
        size="sm"
        variant="outline-primary"
        className="align-self-end mb-1"
        disabled={day === ""}
        onClick={() => onAdd(day, percent)}
      >
        Add
      </Button>
    </Row>
  );
}

/** Home is the air that its boards will live in. */
function Home({ slab: s, wood, set }: Omit<Props, "id">) {
  const { tables } = useWorkshop();
  const place = s.home
    ? (tables.homes.find((h) => JSON.stringify(h.home) === JSON.stringify(s.home))?.name ?? "own")
    : "usual";
  return (
    <>
      <h2>The home it goes to</h2>
      <Choice
        label="Its boards go to"
        value={place}
        options={[
          { value: "usual", label: "the usual home, as at Shop" },
          ...tables.homes.map((h) => h.name),
          ...(place === "own" ? [{ value: "own", label: "a home of its own" }] : []),
        ]}
        onChange={(v) => set({ home: v === "usual" ? undefined : tables.homes.find((h) => h.name === v)?.home })}
      />
      {s.home && (
        <>
          {(["heating", "summer"] as const).map((season) => (
            <Row key={season}>
              <NumberField
                label={season === "heating" ? "Heating season" : "Summer"}
                unit="°C"
                of="piece.home.summer.temperature"
                value={s.home![season].temperature}
                onChange={(temperature) =>
                  set(
                    (now) => ({ home: { ...now.home!, [season]: { ...now.home![season], temperature } } }),
                    `home-${season}`,
                  )
                }
              />
              <NumberField
                label="Humidity"
                unit="%"
                of="piece.home.summer.humidity"
                value={s.home![season].humidity}
                onChange={(humidity) =>
                  set(
                    (now) => ({ home: { ...now.home!, [season]: { ...now.home![season], humidity } } }),
                    `home-${season}`,
                  )
                }
              />
            </Row>
          ))}
        </>
      )}
      <NumberField
        label="A piece that has lived there reads"
        unit="%, 0 for none"
        of="piece.reference"
        value={s.reference ?? 0}
        step={0.1}
        onChange={(reference) => set({ reference }, "reference")}
      />
      <p className="facts">
        It should come to rest at {wood.homeMean.toFixed(1)} %.{" "}
        {s.reference ? "The home-dry piece, read with the same meter, is the target." : ""}
      </p>
    </>
  );
}

/** Thinner tells what milling it thinner first would save. */
function Thinner({ wood }: { wood: Wood }) {
  const { length } = useWorkshop();
  const d = wood.drying;
  if (d.thinner.length === 0) return null;
  return (
    <>
      <h3>Milled thinner first</h3>
      <table className="rungs">
        <thead>
          <tr>
            <th>to</th>
            <th>days</th>
            <th>saves</th>
          </tr>
        </thead>
        <tbody>
          {d.thinner.map((t) => (
            <tr key={t.thickness}>
              <th scope="row">{length(t.thickness)}</th>
              <td>{Math.round(t.days)}</td>
              <td>{Math.round(t.saves)} days</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
