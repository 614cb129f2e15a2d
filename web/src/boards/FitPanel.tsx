// What is put on the board at the end, with its bill and its marks.
import type { Fit, Reckoned } from "../api/client";
import { LengthField, Row, Tick, Choice } from "../kit/fields";
import { Amounts } from "../kit/parts";
import { Figures } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { BoltedFields, CleatFields, PullsFields, SlicerFields } from "./fittings";
import type { PanelProps } from "./panel";

export function FitPanel({ board: b, r, change }: PanelProps) {
  const { value, words, tables } = useWorkshop();
  const f = b.fit;
  const fit = (part: Partial<Fit>, kind = "") =>
    change((now) => ({ ...now, fit: { ...now.fit, ...part } }), kind && `fit-${kind}`);
  const toggle = (key: keyof Fit, label: string) => (
    <Tick
      label={label}
      value={Boolean(f[key])}
      onChange={(on) =>
        change((now) => {
          const next = { ...now.fit };
          if (on) Object.assign(next, { [key]: tables.fittings[key] });
          else delete next[key];
          return { ...now, fit: next };
        })
      }
    />
  );
  const { pulls: p, bolted: h, cleat: c, slicer: s } = f;
  return (
    <>
      <h2>Fit</h2>
      <Tick label="Four feet, which mark the underside" value={f.feet} onChange={(feet) => fit({ feet })} />
      {f.feet && (
        <Row>
          <LengthField
            label="From the outline, 0 for the usual"
            of="board.fit.footInset"
            mm={f.footInset ?? 0}
            onChange={(footInset) => fit({ footInset }, "footInset")}
          />
          <LengthField
            label="Height, 0 for the usual"
            of="board.fit.footHeight"
            mm={f.footHeight ?? 0}
            onChange={(footHeight) => fit({ footHeight }, "footHeight")}
          />
        </Row>
      )}
      <Choice
        label="Down on the table"
        value={b.placement.flip ? "show" : "under"}
        options={[
          { value: "under", label: "the slab's under face" },
          { value: "show", label: "the slab's show face" },
        ]}
        onChange={(down) => change((now) => ({ ...now, placement: { ...now.placement, flip: down === "show" } }))}
      />
      <Tick label="A hanging cord" value={f.cord} onChange={(cord) => fit({ cord })} />
      {f.cord && (
        <>
          <Tick
            label="with ferrules at its ends"
            value={f.ferrules ?? false}
            onChange={(ferrules) => fit({ ferrules })}
          />
          <Row>
            <LengthField
              label="Cord, 0 for the shop's rule"
              of="board.fit.cordLength"
              mm={f.cordLength ?? 0}
              onChange={(cordLength) => fit({ cordLength }, "cord")}
            />
            {f.ferrules && (
              <LengthField
                label="A ferrule, 0 for the usual"
                of="board.fit.ferrule"
                mm={f.ferrule ?? 0}
                onChange={(ferrule) => fit({ ferrule }, "ferrule")}
              />
            )}
          </Row>
        </>
      )}
      {toggle("pulls", "Pulls screwed on")}
      {p && <PullsFields of={p} set={fit} />}
      {toggle("bolted", "A wooden handle bolted on")}
      {h && <BoltedFields of={h} set={fit} />}
      {toggle("cleat", "A locating cleat under its far end")}
      {c && <CleatFields of={c} set={fit} />}
      {toggle("slicer", "A wire slicer")}
      {s && <SlicerFields of={s} set={fit} />}
      {r.fittings.items.length > 0 && <h2>Bill of fittings</h2>}
      <Amounts rows={r.fittings.items.map((o) => [words(o.name), value(o.amount, o.unit)])} />
      <Figures figures={r.fittings.figures} />
      <Marks spots={r.fittings.spots} />
      {r.fittings.steps.length > 0 && (
        <ol className="cuts">
          {r.fittings.steps.map((o) => (
            <li key={o}>{words(o)}</li>
          ))}
        </ol>
      )}
      {r.reversible && <p className="facts">Both faces may be used.</p>}
    </>
  );
}

/** Marks are where to bore and screw. */
function Marks({ spots }: { spots: Reckoned["fittings"]["spots"] }) {
  const { length, value } = useWorkshop();
  if (spots.length === 0) return null;
  return (
    <>
      <h2>Marks</h2>
      <table className="rungs">
        <thead>
          <tr>
            <th scope="col">Mark</th>
            <th scope="col">Along</th>
            <th scope="col">Across</th>
            <th scope="col">Bore</th>
          </tr>
        </thead>
        <tbody>
          {spots.map((o) => (
            <tr key={o.name}>
              <th scope="row">
                {o.name}, {o.face}
              </th>
              <td>
                {length(o.fromEnd)} from the {o.end}
              </td>
              <td>
                {length(o.fromSide)} from the {o.side}
              </td>
              <td>{o.diameter > 0 ? value(o.diameter, "bit") : ""}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
