// What lies under a pattern, and the profile of a core that drains.
import type { OfParts, Panel } from "../../api/client";
import { Choice, LengthField, Row, TextField, Tick } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  panel: Panel;
  parts: OfParts;
  set: (part: Partial<Panel>) => void;
}

export function Layers({ panel: p, parts, set }: Props) {
  return (
    <>
      <h3>More than strips</h3>
      <Tick
        label="The pattern is a face, glued on a base"
        value={Boolean(p.base)}
        onChange={(on) => set({ base: on ? { species: p.strips[0].species, thickness: 12 } : undefined })}
      />
      {p.base && <BaseFields base={p.base} set={(part) => set({ base: { ...p.base!, ...part } })} />}
      {!parts.again && (
        <Tick
          label="A sloped core, so that it drains"
          value={Boolean(p.slope)}
          onChange={(on) => set({ slope: on ? { drop: 8, fence: 12, thickness: 12 } : undefined })}
        />
      )}
      {p.slope && <SlopeFields slope={p.slope} set={(part) => set({ slope: { ...p.slope!, ...part } })} />}
    </>
  );
}

type Base = NonNullable<Panel["base"]>;
type Slope = NonNullable<Panel["slope"]>;

function BaseFields({ base: b, set }: { base: Base; set: (part: Partial<Base>) => void }) {
  const { tables, shop } = useWorkshop();
  return (
    <div className="layer-fields">
      <Row>
        <TextField
          label="Species of the base"
          value={b.species}
          list={[...(shop.species ?? []).map((s) => s.name), ...tables.species.map((s) => s.name)]}
          onChange={(species) => set({ species })}
        />
        <LengthField
          label="Base, thick"
          of="piece.glue.base.thickness"
          mm={b.thickness}
          onChange={(thickness) => set({ thickness })}
        />
      </Row>
      <Choice
        label="The base is"
        value={b.sheet ? "sheet" : b.across ? "across" : "along"}
        options={[
          { value: "along", label: "solid, its grain along the panel" },
          { value: "across", label: "solid, its grain across the panel" },
          { value: "sheet", label: "sheet stock" },
        ]}
        onChange={(v) => set({ sheet: v === "sheet", across: v === "across" })}
      />
      <Tick label="A face on both of its sides" value={b.both ?? false} onChange={(both) => set({ both })} />
    </div>
  );
}

function SlopeFields({ slope: s, set }: { slope: Slope; set: (part: Partial<Slope>) => void }) {
  return (
    <div className="layer-fields">
      <Row>
        <LengthField label="Drops by" of="piece.glue.slope.drop" mm={s.drop} onChange={(drop) => set({ drop })} />
        <LengthField
          label="Fences stand"
          of="piece.glue.slope.fence"
          mm={s.fence ?? 0}
          onChange={(fence) => set({ fence })}
        />
        <LengthField
          label="Fences, thick"
          of="piece.glue.slope.thickness"
          mm={s.thickness ?? 0}
          onChange={(thickness) => set({ thickness })}
        />
      </Row>
      <Choice
        label="Water runs"
        value={s.toButt ? "butt" : "far"}
        options={[
          { value: "far", label: "to the far end" },
          { value: "butt", label: "to the butt end" },
        ]}
        onChange={(v) => set({ toButt: v === "butt" })}
      />
      <Tick label="A fence across the high end too" value={s.upper ?? false} onChange={(upper) => set({ upper })} />
    </div>
  );
}
