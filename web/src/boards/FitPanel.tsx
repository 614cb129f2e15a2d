// What is put on the board at the end, with its bill and its marks.
import type { Fit, Reckoned } from "../api/client";
import { LengthField, Row, Tick, Choice } from "../kit/fields";
import { Amounts } from "../kit/parts";
import { Figures } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { BoltedFields, CleatFields, CoinFields, PullsFields, SlicerFields } from "./fittings";
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
  const { pulls: p, bolted: h, cleat: c, slicer: s, coin: o } = f;
  return (
    <>
      <h2>Fit</h2>
      <Feet f={f} fit={fit} />
      <Choice
        label="Down on the table"
        value={b.placement.flip ? "show" : "under"}
        options={[
          { value: "under", label: "the slab's under face" },
          { value: "show", label: "the slab's show face" },
        ]}
        onChange={(down) => change((now) => ({ ...now, placement: { ...now.placement, flip: down === "show" } }))}
      />
      <Cord f={f} fit={fit} />
      {toggle("pulls", "Pulls screwed on")}
      {p && <PullsFields of={p} set={fit} />}
      {toggle("bolted", "A wooden handle bolted on")}
      {h && <BoltedFields of={h} set={fit} />}
      {toggle("cleat", "A locating cleat under its far end")}
      {c && <CleatFields of={c} set={fit} />}
      {toggle("slicer", "A wire slicer")}
      {s && <SlicerFields of={s} set={fit} />}
      {toggle("coin", "A coin let into a face")}
      {o && <CoinFields of={o} set={fit} />}
      <Tick
        label="A stamp or brand"
        value={f.stamp ?? false}
        onChange={(stamp) => fit({ stamp: stamp || undefined })}
      />
      {r.course.steps.some((t) => t.key === "fit") && <When f={f} fit={fit} />}
      {r.fittings.items.length > 0 && <h2>Bill of fittings</h2>}
      <Amounts rows={r.fittings.items.map((o) => [words(o.name), value(o.amount, o.unit)])} />
      <Figures figures={r.fittings.figures} />
      <Marks spots={r.fittings.spots} />
      {r.fittings.steps.length > 0 && (
        <>
          <h2>Assembly</h2>
          <ol className="cuts">
            {r.fittings.steps.map((o) => (
              <li key={o}>{words(o)}</li>
            ))}
          </ol>
        </>
      )}
      {r.reversible && <p className="facts">Both faces may be used.</p>}
    </>
  );
}

interface PartProps {
  f: Fit;
  fit: (part: Partial<Fit>, kind?: string) => void;
}

/** Feet are four, at an inset, as high as they are chosen. */
function Feet({ f, fit }: PartProps) {
  return (
    <>
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
          <LengthField
            label="or over a bowl of"
            of="board.fit.footOver"
            mm={f.footOver ?? 0}
            onChange={(footOver) => fit({ footOver }, "footOver")}
          />
        </Row>
      )}
    </>
  );
}

/** Cord is what it hangs from. */
function Cord({ f, fit }: PartProps) {
  return (
    <>
      <Tick label="A hanging cord" value={f.cord} onChange={(cord) => fit({ cord })} />
      {f.cord && (
        <>
          <Tick
            label="with ferrules at its ends"
            value={f.ferrules ?? false}
            onChange={(ferrules) => fit({ ferrules })}
          />
          <Tick
            label="of leather, or soft"
            value={f.cordSoft ?? false}
            onChange={(cordSoft) => fit({ cordSoft: cordSoft || undefined })}
          />
          <Row>
            <LengthField
              label="Cord, 0 for the shop's rule"
              of="board.fit.cordLength"
              mm={f.cordLength ?? 0}
              onChange={(cordLength) => fit({ cordLength }, "cord")}
            />
            <LengthField
              label="or hung so far down"
              of="board.fit.cordDrop"
              mm={f.cordDrop ?? 0}
              onChange={(cordDrop) => fit({ cordDrop }, "cord-drop")}
            />
            <LengthField
              label="Its thickness, 0 for the usual"
              of="board.fit.cordThick"
              mm={f.cordThick ?? 0}
              onChange={(cordThick) => fit({ cordThick }, "cord-thick")}
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
    </>
  );
}

/** When is whether it is fitted before the finish or after, and where its marks are measured from. */
function When({ f, fit }: PartProps) {
  return (
    <>
      <h2>When and where</h2>
      <Choice
        label="Fitted"
        value={f.when ?? ""}
        options={[
          { value: "", label: "after the last coat" },
          { value: "between", label: "between two coats" },
          { value: "before", label: "before the first coat" },
        ]}
        onChange={(when) => fit({ when })}
      />
      <Row>
        <Choice
          label="Marks from"
          value={f.markEnd ?? ""}
          options={[
            { value: "", label: "the nearer end" },
            { value: "handle end", label: "the handle end" },
            { value: "far end", label: "the far end" },
          ]}
          onChange={(markEnd) => fit({ markEnd })}
        />
        <Choice
          label="and from"
          value={f.markSide ?? ""}
          options={[
            { value: "", label: "the nearer side" },
            { value: "left side", label: "the left side" },
            { value: "right side", label: "the right side" },
          ]}
          onChange={(markSide) => fit({ markSide })}
        />
      </Row>
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
              <td>
                {o.diameter > 0 ? value(o.diameter, "bit") : ""}
                {(o.deep ?? 0) > 0 && <span className="facts"> stop at {length(o.deep ?? 0)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
