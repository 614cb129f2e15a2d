// What a piece is, where it came from and what it cost.
import type { Slab, Wood } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, DayField, LengthField, MoneyField, NumberField, Row, TextField, Tick } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";

export const stocks = {
  slab: "Slab",
  plank: "Plank or shop board",
  panel: "Glued panel",
  sheet: "Sheet stock",
  slice: "Slice across the trunk",
  offcut: "Offcut",
} as const;

export function What({ slab: s, wood, set }: { slab: Slab; wood: Wood; set: Edit<Slab> }) {
  const { tables, shop } = useWorkshop();
  const names = [...(shop.species ?? []).map((own) => own.name), ...tables.species.map((known) => known.name)];
  return (
    <>
      <h2>What it is</h2>
      <TextField label="Name" value={s.name} onChange={(name) => set({ name }, "name")} />
      {wood.parts ? (
        <p className="facts">What it is made of, its size and its price follow from its strips.</p>
      ) : (
        <OnePiece slab={s} wood={wood} set={set} names={names} />
      )}

      <TextField
        label="Kept for"
        placeholder="a person, a board, a run"
        value={s.reserved ?? ""}
        onChange={(reserved) => set({ reserved }, "reserved")}
      />
      <Origin slab={s} set={set} />
      <Bought slab={s} set={set} />
      <h2>Notes</h2>
      <TextField label="Notes" hideLabel rows={3} value={s.notes} onChange={(notes) => set({ notes }, "notes")} />
    </>
  );
}

/** OnePiece is what is known of a piece that is not glued up. */
function OnePiece({ slab: s, wood, set, names }: PartProps & { wood: Wood; names: string[] }) {
  return (
    <>
      <TextField label="Species" value={s.species} list={names} onChange={(species) => set({ species })} />
      <SpeciesFacts wood={wood} />
      <Row>
        <Choice
          label="Kind"
          value={s.stock ?? "slab"}
          options={Object.entries(stocks).map(([value, label]) => ({ value: value as keyof typeof stocks, label }))}
          onChange={(stock) => set({ stock })}
        />
        <LengthField
          label="Length"
          name="length"
          of="piece.length"
          mm={s.length}
          onChange={(length) => set({ length }, "length")}
        />
      </Row>
      <Row>
        <MoneyField
          label="Price"
          of="piece.priceCents"
          cents={s.priceCents}
          onChange={(cents) => set({ priceCents: cents }, "price")}
        />
        <Choice
          label="by"
          value={s.priceBy ?? "piece"}
          options={[
            { value: "piece", label: "the piece" },
            { value: "board foot", label: "the board foot" },
            { value: "cubic metre", label: "the cubic metre" },
          ]}
          onChange={(priceBy) => set({ priceBy })}
        />
      </Row>
      {s.stock === "sheet" && (
        <LengthField
          label="Face veneer, 0 if not known"
          of="piece.veneer"
          mm={s.veneer ?? 0}
          onChange={(veneer) => set({ veneer }, "veneer")}
        />
      )}
      <Tick label="Reclaimed, of unknown treatment" value={s.reclaimed} onChange={(reclaimed) => set({ reclaimed })} />
      {s.reclaimed && (
        <p className="caution">
          Lead paint, preservatives, nails: test it, look for metal before it meets a blade, and when in doubt keep it
          off food.
        </p>
      )}
    </>
  );
}

function SpeciesFacts({ wood }: { wood: Wood }) {
  const { value } = useWorkshop();
  const s = wood.species;
  const food = { suitable: "used for food", caution: "care near food", never: "never for food" }[s.food];
  return (
    <ul className="species-facts">
      <li>
        <em>{s.botanical}</em>, {s.group}
      </li>
      <li>
        {value(s.density, "kg/m³")}, Janka hardness {value(s.janka, "N")}
      </li>
      <li>
        {s.pores === "none" ? "no pores" : `${s.pores} pores`}, {food}
      </li>
      {s.colourChange && s.colourChange !== "none" && <li>colour: {s.colourChange}</li>}
      {s.note && <li>{s.note}</li>}
      {wood.works.map((o) => (
        <li key={o}>{o}</li>
      ))}
      {s.dust !== "ordinary" && <li className="caution">Dust: {s.dust}. Extraction and a fitted respirator.</li>}
    </ul>
  );
}

interface PartProps {
  slab: Slab;
  set: Edit<Slab>;
}

/** Origin is where the piece came from. */
function Origin({ slab: s, set }: PartProps) {
  const o = s.origin ?? {};
  const origin = (part: Partial<typeof o>) =>
    set((now) => ({ origin: { ...now.origin, ...part } }), `origin-${Object.keys(part)[0]}`);
  return (
    <>
      <h2>Where it came from</h2>
      <TextField label="Tree, place or yard" value={o.source ?? ""} onChange={(source) => origin({ source })} />
      <Row>
        <TextField
          label="Felled"
          placeholder="2031-03"
          value={o.felled ?? ""}
          onChange={(felled) => origin({ felled })}
        />
        <TextField
          label="Milled"
          placeholder="2031-05-12"
          value={o.milled ?? ""}
          onChange={(milled) => origin({ milled })}
        />
      </Row>
      <Choice
        label="Dried"
        value={o.dried ?? ""}
        options={[
          { value: "", label: "–" },
          { value: "air", label: "in the air" },
          { value: "kiln", label: "in a kiln: checked, not believed" },
          { value: "green", label: "not yet" },
          "not known",
        ]}
        onChange={(dried) => origin({ dried: dried === "" ? undefined : dried })}
      />
      <Tick
        label="Its ends were sealed when fresh"
        value={o.endsSealed ?? false}
        onChange={(endsSealed) => origin({ endsSealed })}
      />
    </>
  );
}

/** Bought is the work that was done elsewhere. */
function Bought({ slab: s, set }: PartProps) {
  const b = s.bought ?? {};
  const bought = (part: Partial<typeof b>) =>
    set((now) => ({ bought: { ...now.bought, ...part } }), `bought-${Object.keys(part)[0]}`);
  return (
    <>
      <h2>Work bought in</h2>
      <TextField
        label="What was done elsewhere"
        placeholder="resawn and sanded"
        value={b.work ?? ""}
        onChange={(work) => bought({ work })}
      />
      <Row>
        <LengthField
          label="Delivered thickness, 0 if rough"
          of="piece.bought.thickness"
          mm={b.thickness ?? 0}
          onChange={(thickness) => bought({ thickness })}
        />
        <NumberField
          label="Sanded to grit"
          whole
          of="piece.bought.grit"
          value={b.grit ?? 0}
          onChange={(grit) => bought({ grit })}
        />
        <MoneyField
          label="Cost"
          of="piece.bought.costCents"
          cents={b.costCents ?? 0}
          onChange={(cents) => bought({ costCents: cents })}
        />
      </Row>
      <Row>
        <DayField label="Leaves on" value={b.leaves ?? ""} onChange={(leaves) => bought({ leaves })} />
        <DayField label="Comes back on" value={b.back ?? ""} onChange={(back) => bought({ back })} />
      </Row>
      <p className="facts">Until it is back, the plans of its boards wait for it.</p>
    </>
  );
}
