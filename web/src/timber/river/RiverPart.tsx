// A river: its banks, what the gap holds, its resin, its mould and its work.
import Button from "react-bootstrap/Button";
import type { OfRiver, River, Slab, Wood } from "../../api/client";
import { Curing } from "../../boards/fill/Curing";
import { Resin } from "../../boards/fill/Resin";
import { Steps } from "../../boards/Steps";
import type { Doc } from "../../kit/document/useDocument";
import { Choice, LengthField, NumberField, Row, Tick, wordsOf } from "../../kit/fields";
import { Amounts } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { Across, OnSheet } from "./RiverDrawing";
import type { Bank, useBanks } from "./useBanks";

interface Props {
  doc: Doc<Slab, Wood>;
  of: OfRiver;
  picked: string;
  onPick: (id: string) => void;
  on: ReturnType<typeof useBanks>;
}

/** useRiver edits the river of the piece. */
function useRiver(d: Doc<Slab, Wood>) {
  return (change: (r: River) => Partial<River>, kind?: string) =>
    d.set((s) => (s.river ? { ...s, river: { ...s.river, ...change(s.river) } } : s), kind);
}

export function RiverPart({ doc: d, of, picked, onPick, on }: Props) {
  const { value, tables } = useWorkshop();
  const r = d.doc.river!;
  const edit = useRiver(d);
  return (
    <>
      <h2>River</h2>
      <p className="river-volume" role="status">
        <strong>{value(of.volume.value, "ml")}</strong> between the true edges; by the mean of five widths{" "}
        {value(of.guess.value, "ml")}, {of.off >= 0 ? "+" : "−"}
        {Math.abs(of.off).toFixed(1)} %.
      </p>
      <Row>
        <LengthField
          label="Mould, long"
          of="piece.river.length"
          mm={r.length}
          onChange={(length) => edit(() => ({ length }), "length")}
        />
        <LengthField
          label="Wide"
          of="piece.river.width"
          mm={r.width}
          onChange={(width) => edit(() => ({ width }), "width")}
        />
        <LengthField
          label="Pour, deep"
          of="piece.river.depth"
          mm={r.depth}
          onChange={(depth) => edit(() => ({ depth }), "depth")}
        />
      </Row>
      <h3>Banks</h3>
      {r.banks.map((b) => (
        <BankFields
          key={b.id}
          bank={b}
          over={of.banks.find((o) => o.id === b.id)?.over}
          picked={picked === b.id}
          onPick={onPick}
          on={on}
          edit={edit}
        />
      ))}
      {of.mix ? (
        <Resin
          mix={of.mix}
          chosen={r.fill}
          choose={(next, kind) => edit((now) => ({ fill: { ...now.fill, ...next } }), kind)}
        />
      ) : (
        <Choice
          label="Resin"
          value={r.fill.resin}
          options={wordsOf(tables.resins)}
          onChange={(resin) => edit((now) => ({ fill: { ...now.fill, resin } }))}
        />
      )}
      {of.curing && <Curing of={of.curing} />}
      <h2>Work</h2>
      <p className="state-mark" role="status">
        The panel is {of.state}.
      </p>
      <Steps course={of.course} cautions={of.cautions} />
    </>
  );
}

interface BankProps {
  bank: Bank;
  /** Where it lies when it is turned over. */
  over?: Bank["at"];
  picked: boolean;
  onPick: (id: string) => void;
  on: ReturnType<typeof useBanks>;
  edit: ReturnType<typeof useRiver>;
}

function BankFields({ bank: b, over, picked, onPick, on, edit }: BankProps) {
  const { length } = useWorkshop();
  const change = (next: Partial<Bank>, kind?: string) =>
    edit((now) => ({ banks: now.banks.map((o) => (o.id === b.id ? { ...o, ...next } : o)) }), kind);
  return (
    <div className="bank-card" data-bank-card={b.id}>
      <button type="button" className="flaw-head" aria-expanded={picked} onClick={() => onPick(picked ? "" : b.id)}>
        {b.name}
        <span className="facts">
          {b.species}, {length(b.thickness)} thick
        </span>
      </button>
      {picked && (
        <>
          <Row>
            <LengthField
              label="Along"
              signed
              mm={b.at.x}
              onChange={(x) => on.place(b.id, () => ({ x }), `bank-${b.id}`)}
            />
            <LengthField
              label="Across"
              signed
              mm={b.at.y}
              onChange={(y) => on.place(b.id, () => ({ y }), `bank-${b.id}`)}
            />
            <NumberField
              label="Turned"
              unit="°"
              least={-360}
              most={360}
              step={0.5}
              value={b.at.angle}
              onChange={(angle) => on.place(b.id, () => ({ angle }), `bank-${b.id}`)}
            />
          </Row>
          <Row>
            <LengthField
              label="Planed to"
              of="piece.river.banks.thickness"
              mm={b.thickness}
              onChange={(thickness) => change({ thickness }, `bank-${b.id}`)}
            />
            <Choice
              label="Its live edge"
              value={b.bark || "bare"}
              options={[
                { value: "bare", label: "bare" },
                { value: "sound", label: "sound bark" },
                { value: "loose", label: "loose bark" },
                { value: "splintery", label: "splintery bark" },
              ]}
              onChange={(bark) => change({ bark })}
            />
          </Row>
          {over && (
            <Button size="sm" variant="outline-primary" onClick={() => on.place(b.id, () => over, "over")}>
              Turn it over
            </Button>
          )}
        </>
      )}
    </div>
  );
}

export function MouldPart({ doc: d, of }: Pick<Props, "doc" | "of">) {
  const { length, value, shop } = useWorkshop();
  const r = d.doc.river!;
  const edit = useRiver(d);
  const m = of.mould;
  return (
    <>
      <h2>Mould</h2>
      <Across river={r} of={of} />
      {(shop.moulds ?? []).length > 0 && (
        <Choice
          label="Poured in"
          value={r.kept ?? ""}
          options={[
            { value: "", label: "a new mould" },
            ...(shop.moulds ?? []).map((k) => ({
              value: k.name,
              label: `${k.name}, ${length(k.length)} × ${length(k.width)}, used ${k.uses}×`,
            })),
          ]}
          onChange={(kept) => edit(() => ({ kept: kept || undefined }))}
        />
      )}
      <Row>
        <LengthField
          label="Sheet, thick"
          of="piece.river.wall"
          mm={r.wall}
          onChange={(wall) => edit(() => ({ wall }), "wall")}
        />
        <LengthField
          label="Tape, wide"
          of="piece.river.tape"
          mm={r.tape}
          onChange={(tape) => edit(() => ({ tape }), "tape")}
        />
      </Row>
      <Tick
        label="Resin does not stick to the sheet: no tape"
        value={r.covered ?? false}
        onChange={(covered) => edit(() => ({ covered: covered || undefined }))}
      />
      <OnSheet of={of} />
      {m.parts.length > 0 && (
        <table className="mould-parts">
          <thead>
            <tr>
              <th scope="col">Part</th>
              <th scope="col">Length</th>
              <th scope="col">Width</th>
            </tr>
          </thead>
          <tbody>
            {m.parts.map((p, i) => (
              <tr key={i}>
                <th scope="row">{p.name}</th>
                <td>{length(p.length)}</td>
                <td>{length(p.width)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <Amounts
        rows={[
          ["Tape", m.tape > 0 ? length(m.tape) : "none"],
          ["Sealant, a bead of", length(m.sealant)],
          ["Screws", m.screws > 0 ? String(m.screws) : "as they are"],
          ...of.lifts.map(
            (l) =>
              [
                `${l.bank} is lifted by`,
                l.newtons > 0
                  ? `${value(l.newtons, "N")}: ${l.downs} hold-downs of ${value(l.each, "N")}`
                  : "nothing: it stays down",
              ] as [string, string],
          ),
        ]}
      />
    </>
  );
}
