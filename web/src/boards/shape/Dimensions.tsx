// The few named dimensions of a shape.
import type { Design } from "../../api/client";
import { Choice, LengthField, Row, Tick } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import { AtHand } from "./AtHand";
import type { SetDesign } from "./lines";

/** Dimensions are the few named dimensions of a shape. */
export function Dimensions({ d, set }: { d: Design; set: SetDesign }) {
  const { tables, unit, length } = useWorkshop();
  const formats = tables.formats[unit];
  const one = d.shape === "circle" || d.shape === "square";
  const cornered = ["rectangle", "square", "paddle", "blade", "half moon"].includes(d.shape);
  return (
    <>
      {d.shape === "plank" && (
        <Row>
          <Tick label="keep the left edge" value={d.keepLeft} onChange={(keepLeft) => set({ keepLeft })} />
          <Tick label="keep the right edge" value={d.keepRight} onChange={(keepRight) => set({ keepRight })} />
        </Row>
      )}
      {d.shape !== "free" && (
        <Choice
          label="A size that is often made"
          value=""
          options={[
            { value: "", label: "of its own" },
            ...formats.map((f) => ({ value: f.name, label: `${f.name}, ${length(f.length)} × ${length(f.width)}` })),
          ]}
          onChange={(name) => {
            const f = formats.find((o) => o.name === name);
            if (f) set({ length: f.length, width: one ? f.length : f.width });
          }}
        />
      )}
      {d.shape !== "free" && (
        <Row>
          <LengthField
            label={d.shape === "circle" ? "Diameter" : "Length"}
            name="board-length"
            of="board.design.length"
            mm={d.length}
            onChange={(v) => set({ length: v }, "length")}
          />
          {!one && (
            <LengthField
              label={d.shape === "plank" ? "Width if sawn" : "Width"}
              name="board-width"
              of="board.design.width"
              mm={d.width}
              onChange={(v) => set({ width: v }, "width")}
            />
          )}
          {cornered && (
            <LengthField
              label="Corners"
              of="board.design.corner"
              mm={d.corner}
              onChange={(v) => set({ corner: v }, "corner")}
            />
          )}
          {cornered && <AtHand radius={d.corner} onChange={(corner) => set({ corner })} />}
        </Row>
      )}
      {d.shape === "paddle" && (
        <Row>
          <LengthField label="Neck" of="board.design.neck" mm={d.neck} onChange={(v) => set({ neck: v }, "neck")} />
          <LengthField
            label="Neck's length"
            of="board.design.neckLength"
            mm={d.neckLength}
            onChange={(v) => set({ neckLength: v }, "neckLength")}
          />
          <LengthField
            label="Shoulder"
            of="board.design.shoulder"
            mm={d.shoulder}
            onChange={(v) => set({ shoulder: v }, "shoulder")}
          />
        </Row>
      )}
    </>
  );
}
