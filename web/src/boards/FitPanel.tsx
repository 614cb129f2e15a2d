// What is put on the board at the end, with its bill and its marks.
import type { Fit } from "../api/client";
import { Choice, LengthField, Row, Tick } from "../kit/fields";
import { Figures } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { Amounts, type PanelProps } from "./panels";

const starts = {
  pulls: { both: true, machine: false, spacing: 96, setback: 30, offset: 0, foot: 4, countersink: 0, screw: 4 },
  bolted: { width: 24, height: 28, groove: 5, bolt: 5, sunk: 4, from: 40 },
  cleat: { height: 20, width: 25, own: false, screw: 4 },
  slicer: { left: false, from: 90, bore: 6, below: 10, deep: 60, gap: 10, wire: 0.8, kerf: 2 },
};

export function FitPanel({ board: b, r, change }: PanelProps) {
  const { value, length, words } = useWorkshop();
  const f = b.fit;
  const fit = (part: Partial<Fit>, kind = "") => change((now) => ({ ...now, fit: { ...now.fit, ...part } }), kind && `fit-${kind}`);
  const toggle = <K extends keyof typeof starts>(key: K, label: string) => (
    <Tick
      label={label}
      value={Boolean(f[key])}
      onChange={(on) =>
        change((now) => {
          const next = { ...now.fit };
          if (on) next[key] = starts[key] as never;
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
          <LengthField label="From the outline, 0 for the usual" mm={f.footInset ?? 0} onChange={(footInset) => fit({ footInset }, "footInset")} />
          <LengthField label="Height, 0 for the usual" mm={f.footHeight ?? 0} onChange={(footHeight) => fit({ footHeight }, "footHeight")} />
        </Row>
      )}
      <Choice
        label="Down on the table"
        value={b.placement.flip ? "show" : "under"}
        options={[{ value: "under", label: "the slab's under face" }, { value: "show", label: "the slab's show face" }]}
        onChange={(down) => change((now) => ({ ...now, placement: { ...now.placement, flip: down === "show" } }))}
      />
      <Tick label="A hanging cord" value={f.cord} onChange={(cord) => fit({ cord })} />
      {f.cord && (
        <>
          <Tick label="with ferrules at its ends" value={f.ferrules ?? false} onChange={(ferrules) => fit({ ferrules })} />
          <Row>
            <LengthField label="Cord, 0 for the shop's rule" mm={f.cordLength ?? 0} onChange={(cordLength) => fit({ cordLength }, "cord")} />
            {f.ferrules && <LengthField label="A ferrule, 0 for the usual" mm={f.ferrule ?? 0} onChange={(ferrule) => fit({ ferrule }, "ferrule")} />}
          </Row>
        </>
      )}
      {toggle("pulls", "Pulls screwed on")}
      {p && (
        <>
          <Row>
            <Choice label="At" value={p.both ? "both" : "one"} options={[{ value: "both", label: "both ends" }, { value: "one", label: "the handle end" }]} onChange={(v) => fit({ pulls: { ...p, both: v === "both" } })} />
            <Choice label="Held by" value={p.machine ? "machine" : "wood"} options={[{ value: "wood", label: "wood screws" }, { value: "machine", label: "machine screws from below" }]} onChange={(v) => fit({ pulls: { ...p, machine: v === "machine" } })} />
          </Row>
          <Row>
            <LengthField label="Between its holes" mm={p.spacing} onChange={(spacing) => fit({ pulls: { ...p, spacing } }, "spacing")} />
            <LengthField label="From the end" mm={p.setback} least={3} onChange={(setback) => fit({ pulls: { ...p, setback } }, "setback")} />
            <LengthField label="Off centre" signed mm={p.offset} onChange={(offset) => fit({ pulls: { ...p, offset } }, "offset")} />
          </Row>
          <Row>
            <LengthField label="Its foot is thick" mm={p.foot} onChange={(foot) => fit({ pulls: { ...p, foot } }, "foot")} />
            <LengthField label="Head sunk" mm={p.countersink} onChange={(countersink) => fit({ pulls: { ...p, countersink } }, "sink")} />
            <LengthField label="Screw" mm={p.screw} least={1.5} onChange={(screw) => fit({ pulls: { ...p, screw } }, "screw")} />
          </Row>
        </>
      )}
      {toggle("bolted", "A wooden handle bolted on")}
      {h && (
        <>
          <Row>
            <LengthField label="Its foot is wide" mm={h.width} least={5} onChange={(width) => fit({ bolted: { ...h, width } }, "bw")} />
            <LengthField label="It is high at the bolt" mm={h.height} least={5} onChange={(height) => fit({ bolted: { ...h, height } }, "bh")} />
            <LengthField label="From the end" mm={h.from} least={5} onChange={(from) => fit({ bolted: { ...h, from } }, "bf")} />
          </Row>
          <Row>
            <LengthField label="Groove's depth" mm={h.groove} onChange={(groove) => fit({ bolted: { ...h, groove } }, "bg")} />
            <LengthField label="Bolt" mm={h.bolt} least={3} onChange={(bolt) => fit({ bolted: { ...h, bolt } }, "bb")} />
            <LengthField label="Head sunk" mm={h.sunk} onChange={(sunk) => fit({ bolted: { ...h, sunk } }, "bs")} />
          </Row>
        </>
      )}
      {toggle("cleat", "A locating cleat under its far end")}
      {c && (
        <>
          <Row>
            <LengthField label="Height below" mm={c.height} least={5} onChange={(height) => fit({ cleat: { ...c, height } }, "ch")} />
            <LengthField label="Width" mm={c.width} least={5} onChange={(width) => fit({ cleat: { ...c, width } }, "cw")} />
            <LengthField label="Screws" mm={c.screw} least={2} onChange={(screw) => fit({ cleat: { ...c, screw } }, "cs")} />
          </Row>
          <Choice label="Its grain" value={c.own ? "own" : "along"} options={[{ value: "along", label: "along the cleat: strong, screwed in slots" }, { value: "own", label: "the board's own, across it: moves with the board, weak" }]} onChange={(v) => fit({ cleat: { ...c, own: v === "own" } })} />
        </>
      )}
      {toggle("slicer", "A wire slicer")}
      {s && (
        <>
          <Choice label="For" value={s.left ? "left" : "right"} options={[{ value: "right", label: "a right hand: bore in the right side" }, { value: "left", label: "a left hand: bore in the left side" }]} onChange={(v) => fit({ slicer: { ...s, left: v === "left" } })} />
          <Row>
            <LengthField label="Slot from the far end" mm={s.from} least={5} onChange={(from) => fit({ slicer: { ...s, from } }, "sf")} />
            <LengthField label="Bore beside the slot by" mm={s.gap} onChange={(gap) => fit({ slicer: { ...s, gap } }, "sg")} />
            <LengthField label="Slot's width" mm={s.kerf} least={0.5} onChange={(kerf) => fit({ slicer: { ...s, kerf } }, "sk")} />
          </Row>
          <Row>
            <LengthField label="Bore" mm={s.bore} least={2} onChange={(bore) => fit({ slicer: { ...s, bore } }, "sb")} />
            <LengthField label="Below the show face" mm={s.below} least={1} onChange={(below) => fit({ slicer: { ...s, below } }, "sw")} />
            <LengthField label="Bore's depth" mm={s.deep} least={5} onChange={(deep) => fit({ slicer: { ...s, deep } }, "sd")} />
            <LengthField label="Wire" mm={s.wire} least={0.2} onChange={(wire) => fit({ slicer: { ...s, wire } }, "sr")} />
          </Row>
        </>
      )}
      {r.fittings.items.length > 0 && <h2>Bill of fittings</h2>}
      <Amounts rows={r.fittings.items.map((o) => [o.name, value(o.amount, o.unit)])} />
      <Figures figures={r.fittings.figures} />
      {r.fittings.spots.length > 0 && (
        <>
          <h2>Marks</h2>
          <table className="rungs">
            <thead>
              <tr>
                <th scope="col">Mark</th>
                <th scope="col">From the end</th>
                <th scope="col">From the side</th>
                <th scope="col">Bore</th>
              </tr>
            </thead>
            <tbody>
              {r.fittings.spots.map((o) => (
                <tr key={o.name}>
                  <th scope="row">
                    {o.name}
                    {o.under ? ", under face" : ""}
                  </th>
                  <td>{length(o.fromEnd)}</td>
                  <td>{length(o.fromSide)}</td>
                  <td>{o.diameter > 0 ? length(o.diameter) : ""}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </>
      )}
      {r.fittings.steps.length > 0 && (
        <ol className="cuts">
          {r.fittings.steps.map((o) => (
            <li key={o}>{words(o)}</li>
          ))}
        </ol>
      )}
      {!f.feet && !p && !c && !h && <p className="facts">Without feet both faces may be used.</p>}
    </>
  );
}
