// One handle: its few dimensions, and where it stands.
import type { Handle } from "../../api/client";
import { Choice, LengthField, NumberField, Row, Tick } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  h: Handle;
  part: (change: Partial<Handle>, kind?: string) => void;
}

/** HandleFields edits one handle; with full, also what is seldom wanted. */
export function HandleFields({ h, part, full = false }: Props & { full?: boolean }) {
  const shaped = ["heart", "drop", "crescent", "slot", "notch"].includes(h.kind);
  const size: Partial<Record<Handle["kind"], string>> = {
    slot: "Slot's width",
    notch: "Notch's depth",
    hole: "Diameter",
    cord: "Diameter",
  };
  const { tables } = useWorkshop();
  if (h.kind === "none") return null;
  const bored = h.kind === "slot" || tables.handles.some((k) => k.kind === h.kind && k.bored);
  if (h.kind === "bevel") return <BevelFields h={h} part={part} />;
  return (
    <>
      <Row>
        {h.kind !== "own" && (
          <LengthField
            label={size[h.kind] ?? "Width"}
            of="board.design.handle.diameter"
            mm={h.diameter}
            onChange={(diameter) => part({ diameter }, "diameter")}
          />
        )}
        {bored && <BitChoice diameter={h.diameter} onChange={(diameter) => part({ diameter }, "bit")} />}
        {shaped && (
          <LengthField
            label={h.kind === "slot" ? "Slot's length" : "Length"}
            of="board.design.handle.length"
            mm={h.length}
            onChange={(v) => part({ length: v }, "length")}
          />
        )}
        <LengthField
          label="From the end"
          of="board.design.handle.setback"
          mm={h.setback}
          onChange={(setback) => part({ setback }, "setback")}
        />
        {h.kind !== "notch" && (
          <LengthField
            label={h.local ? "Off the middle" : "Off centre"}
            of="board.design.handle.offset"
            mm={h.offset}
            onChange={(offset) => part({ offset }, "offset")}
          />
        )}
      </Row>
      {full && <PlaceFields h={h} part={part} />}
    </>
  );
}

/** BitChoice offers the sizes in the drawer. */
function BitChoice({ diameter, onChange }: { diameter: number; onChange: (mm: number) => void }) {
  const { shop, value } = useWorkshop();
  const bores = [...new Set(shop.bits.filter((b) => b.kind !== "countersink").map((b) => b.diameter))];
  if (bores.length === 0) return null;
  const sizes = bores.sort((a, b) => a - b).map((b) => ({ value: String(b), label: value(b, "bit") }));
  const owned = bores.includes(diameter);
  return (
    <Choice
      label="Bit owned"
      value={owned ? String(diameter) : ""}
      options={owned ? sizes : [{ value: "", label: "none of it" }, ...sizes]}
      onChange={(b) => b && onChange(Number(b))}
    />
  );
}

/** BevelFields are those of a finger bevel. */
function BevelFields({ h, part }: Props) {
  return (
    <>
      <Row>
        <LengthField
          label="Flat left at the edge"
          of="board.design.handle.flat"
          mm={h.flat ?? 0}
          onChange={(flat) => part({ flat }, "flat")}
        />
        <NumberField
          label="Angle from upright"
          unit="°"
          of="board.design.handle.angle"
          value={h.angle ?? 25}
          onChange={(angle) => part({ angle }, "angle")}
        />
        <Choice
          label="Along"
          value={h.where || "all"}
          options={[
            { value: "ends", label: "the ends" },
            { value: "sides", label: "the sides" },
            { value: "all", label: "all round" },
          ]}
          onChange={(where) => part({ where: where as Handle["where"] })}
        />
      </Row>
      <Tick
        label="On both faces, so that it can be turned over"
        value={h.both ?? false}
        onChange={(both) => part({ both })}
      />
    </>
  );
}

/** PlaceFields are where the handle stands, beyond its distance from the end. */
function PlaceFields({ h, part }: Props) {
  return (
    <Row>
      <Choice
        label="Measured from"
        value={h.far ? "far" : "handle"}
        options={[
          { value: "handle", label: "the handle end" },
          { value: "far", label: "the far end" },
        ]}
        onChange={(v) => part({ far: v === "far" })}
      />
      {h.kind === "notch" ? (
        <Choice
          label="In the"
          value={h.right ? "right" : "left"}
          options={[
            { value: "left", label: "left side" },
            { value: "right", label: "right side" },
          ]}
          onChange={(v) => part({ right: v === "right" })}
        />
      ) : (
        <>
          <Choice
            label="Centred on"
            value={h.local ? "local" : "line"}
            options={[
              { value: "line", label: "the centre line" },
              { value: "local", label: "the width there" },
            ]}
            onChange={(v) => part({ local: v === "local", ...(v === "local" ? { offset: 0 } : {}) })}
          />
          {h.kind !== "hole" && h.kind !== "cord" && (
            <NumberField
              label="Turned"
              unit="°"
              of="board.design.handle.turn"
              value={h.turn ?? 0}
              onChange={(turn) => part({ turn }, "turn")}
            />
          )}
        </>
      )}
    </Row>
  );
}
