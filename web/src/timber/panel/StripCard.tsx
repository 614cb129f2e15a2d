// The strip that is picked: where it comes from, its size, how it lies, what showed
// when it was ripped.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link } from "react-router";
import { api, unwrap, type OfParts, type Panel, type Strip } from "../../api/client";
import { Choice, LengthField, MoneyField, NumberField, RemoveButton, Row, TextField, Tick } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import { newFlaw } from "../marks";
import { changed, doubled, moved, swapped, without } from "./strips";

interface Props {
  panel: Panel;
  parts: OfParts;
  at: number;
  edit: (change: (p: Panel) => Panel, step: string) => void;
  onGone: () => void;
}

export function StripCard({ panel: p, parts, at, edit, onGone }: Props) {
  const { words } = useWorkshop();
  const s = p.strips[at];
  const placeOf = (now: Panel) => now.strips.findIndex((o) => o.id === s.id);
  const set = (part: Partial<Strip>) =>
    edit((now) => changed(now, placeOf(now), part), `strip-${s.id}-${Object.keys(part)[0]}`);
  const act = (change: (now: Panel, i: number) => Panel, step: string) =>
    edit((now) => change(now, placeOf(now)), `${step}-${s.id}`);
  const spare = (p.spares ?? []).findIndex((o) => o.species === s.species);
  const { edge } = parts;
  const stands: Strip | undefined = parts.strips[at]; // with what its piece says
  return (
    <section className="strip-card" aria-label={`Strip ${at + 1}`}>
      <h3>Strip {at + 1}</h3>
      <div className="d-flex gap-2 flex-wrap">
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => act((n, i) => ({ ...n, strips: moved(n.strips, i, i - 1) }), "order")}
        >
          Left
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => act((n, i) => ({ ...n, strips: moved(n.strips, i, i + 1) }), "order")}
        >
          Right
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => set({ turned: !s.turned })}>
          End for end
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => set({ flipped: !s.flipped })}>
          {edge ? "Roll it the other way" : "Other face up"}
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => act(doubled, "double")}>
          Double
        </Button>
        {spare >= 0 && (
          <Button size="sm" variant="outline-primary" onClick={() => act((n, i) => swapped(n, i, spare), "swap")}>
            Swap for a spare one
          </Button>
        )}
        <Button
          size="sm"
          variant="outline-secondary"
          disabled={p.strips.length < 2}
          onClick={() => {
            act(without, "out");
            onGone();
          }}
        >
          Leave it out
        </Button>
      </div>
      {stands?.problem && (
        <p className="wrong" role="alert">
          {words(stands.problem)}
        </p>
      )}
      <From strip={s} stands={stands} set={set} />
      <Row>
        <LengthField
          label="Length, rough"
          of="piece.glue.strips.length"
          mm={s.length}
          onChange={(length) => set({ length })}
        />
        <LengthField
          label={edge ? "Ripped, stands" : "Ripped, jointed"}
          of="piece.glue.strips.width"
          mm={s.width}
          onChange={(width) => set({ width })}
        />
        <LengthField
          label="Stock, planed"
          of="piece.glue.strips.thickness"
          mm={s.thickness}
          onChange={(thickness) => set({ thickness })}
        />
      </Row>
      <Row>
        <LengthField
          label="Set on by"
          of="piece.glue.strips.along"
          signed
          mm={s.along ?? 0}
          onChange={(along) => set({ along })}
        />
        <Choice
          label="Made before it is glued"
          value={s.shaped ?? ""}
          options={[
            { value: "", label: "nothing" },
            "recess",
            "bowl",
            "slope",
            { value: "cut", label: "template cut" },
          ]}
          onChange={(shaped) => set({ shaped: shaped === "" ? undefined : (shaped as Strip["shaped"]) })}
        />
      </Row>
      <Found strip={s} set={set} />
    </section>
  );
}

interface PartProps {
  strip: Strip;
  stands?: Strip;
  set: (part: Partial<Strip>) => void;
}

/** Bought is a strip that is of no piece of the rack. */
function Bought({ strip: s, set }: PartProps) {
  const { tables, shop } = useWorkshop();
  return (
    <>
      <Row>
        <TextField
          label="Species of the strip"
          value={s.species}
          list={[...(shop.species ?? []).map((o) => o.name), ...tables.species.map((o) => o.name)]}
          onChange={(species) => set({ species })}
        />
        <MoneyField
          label="Price"
          of="piece.glue.strips.cents"
          cents={s.cents ?? 0}
          onChange={(cents) => set({ cents })}
        />
      </Row>
      <Tick label="At hand, not to be bought" value={s.atHand ?? false} onChange={(atHand) => set({ atHand })} />
    </>
  );
}

/** From is where a strip comes from: a piece of the rack, or the yard. */
function From({ strip: s, stands, set }: PartProps) {
  const { value } = useWorkshop();
  const [looking, setLooking] = useState(false);
  const [q, setQ] = useState("");
  const rack = useQuery({
    queryKey: ["pieces", "strips", q],
    queryFn: () => unwrap(api.GET("/api/pieces", { params: { query: { q } } })),
    enabled: looking,
    placeholderData: (before) => before,
  });
  return (
    <>
      <p className="facts">
        {s.piece ? (
          <>
            From <Link to={`/timber/${s.piece}`}>a piece of the rack</Link>, where its wood is kept for it:{" "}
            {stands?.species}
            {stands?.cents ? `, ${value(stands.cents, "cents")}` : ""}
            {stands?.moisture ? `, read at ${value(stands.moisture, "%")}` : ""}
            {stands?.yield ? `; ${stands.yield} such strips side by side` : ""}.
          </>
        ) : (
          "Of no piece of the rack."
        )}
      </p>
      {!s.piece && <Bought strip={s} set={set} />}
      <div className="d-flex gap-2 flex-wrap mb-2">
        <Button size="sm" variant="outline-primary" aria-expanded={looking} onClick={() => setLooking(!looking)}>
          Take it from the rack
        </Button>
        {s.piece && (
          <Button size="sm" variant="outline-secondary" onClick={() => set({ piece: undefined, problem: undefined })}>
            Buy it instead
          </Button>
        )}
      </div>
      {looking && (
        <div className="from-rack">
          <Form.Control
            size="sm"
            type="search"
            aria-label="Look for a piece"
            placeholder="Name or species"
            value={q}
            onChange={(e) => setQ(e.target.value)}
          />
          {(rack.data?.items ?? []).slice(0, 8).map((o) => (
            <button
              key={o.id}
              type="button"
              className="strip-line"
              onClick={() => {
                set({ piece: o.id, species: o.species });
                setLooking(false);
              }}
            >
              <span className="swatch" style={{ background: o.light }} />
              {o.name}
              <span className="facts">{o.species}</span>
            </button>
          ))}
        </div>
      )}
      <Row>
        <NumberField
          label="Rings to its wide face"
          unit="°"
          of="piece.glue.strips.rings"
          value={stands?.rings ?? s.rings ?? 0}
          onChange={(rings) => set({ rings })}
        />
        <Choice
          label="Old paint"
          value={s.paint ?? ""}
          options={[
            { value: "", label: "none" },
            { value: "untested", label: "not tested" },
            { value: "lead", label: "tested: lead" },
            { value: "no lead", label: "tested: no lead" },
          ]}
          onChange={(paint) => set({ paint: paint === "" ? undefined : (paint as Strip["paint"]) })}
        />
      </Row>
      <Tick
        label="Reclaimed, its treatment unknown"
        value={s.reclaimed ?? false}
        onChange={(reclaimed) => set({ reclaimed })}
      />
      {s.reclaimed && (
        <p className="caution">
          Metal out first. Old paint is tested for lead before anything is sanded; what holds lead, or was not tested,
          is never sanded, and is left out or kept off food.
        </p>
      )}
    </>
  );
}

/** Found are the flaws that showed when the strip was ripped. */
function Found({ strip: s, set }: PartProps) {
  const { tables, length } = useWorkshop();
  const [kind, setKind] = useState("knot");
  const [spot, setSpot] = useState({ x: 100, y: 0, a: 6, b: 6, depth: 10 });
  const part = (v: Partial<typeof spot>) => setSpot((now) => ({ ...now, ...v }));
  const flaws = s.flaws ?? [];
  const round = tables.flaws.filter((f) => ["knot", "hole", "dent"].includes(f.kind));
  const add = () => {
    const mark = round.find((f) => f.kind === kind);
    if (!mark) return;
    const { x, y, ...size } = spot;
    const flaw = { ...newFlaw(mark, { x, y }, { x, y }, false), centre: { x, y }, through: false, ...size };
    set({ flaws: [...flaws, flaw] });
  };
  return (
    <details className="found-flaws" open={flaws.length > 0 || undefined}>
      <summary>What showed when it was ripped{flaws.length > 0 && `: ${flaws.length}`}</summary>
      <ul>
        {flaws.map((f, i) => (
          <li key={f.id}>
            {tables.flaws.find((o) => o.kind === f.kind)?.name ?? f.kind}, {length(f.centre.x)} from its butt
            <RemoveButton what={`flaw ${i + 1}`} onClick={() => set({ flaws: flaws.filter((_, k) => k !== i) })} />
          </li>
        ))}
      </ul>
      <Row>
        <Choice
          label="It is"
          value={kind}
          options={round.map((f) => ({ value: f.kind, label: f.name }))}
          onChange={setKind}
        />
        <LengthField label="From its butt" mm={spot.x} least={0} most={5000} onChange={(x) => part({ x })} />
        <LengthField label="Off its middle" signed mm={spot.y} least={-500} most={500} onChange={(y) => part({ y })} />
      </Row>
      <Row>
        <LengthField label="Half its length" mm={spot.a} least={0.2} most={500} onChange={(a) => part({ a })} />
        <LengthField label="Half its width" mm={spot.b} least={0.2} most={500} onChange={(b) => part({ b })} />
        <LengthField label="Deep" mm={spot.depth} least={0.1} most={300} onChange={(depth) => part({ depth })} />
      </Row>
      <Button size="sm" variant="outline-primary" onClick={add}>
        Mark it on the strip
      </Button>
    </details>
  );
}
