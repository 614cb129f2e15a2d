// An end of a plank.
import type { End } from "../../api/client";
import { Choice, kindsOf, LengthField, NumberField, Row } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import { started } from "./lines";

export function EndFields({ label, end, onChange }: { label: string; end: End; onChange: (e: End) => void }) {
  const { tables } = useWorkshop();
  const kind = end.kind ?? "";
  return (
    <>
      <Choice
        label={label}
        value={kind}
        options={kindsOf(tables.ends)}
        onChange={(k) => onChange(started({ ...end, kind: k }, tables.ends.find((o) => o.kind === k)?.start))}
      />
      {kind === "angle" && (
        <NumberField
          label="Angle from square"
          unit="°"
          of="board.design.handleEnd.angle"
          value={end.angle ?? 0}
          onChange={(angle) => onChange({ ...end, angle })}
        />
      )}
      {kind === "curve" && (
        <LengthField
          label="Rise, outward"
          of="board.design.handleEnd.rise"
          mm={end.rise ?? 0}
          onChange={(rise) => onChange({ ...end, rise })}
        />
      )}
      {kind === "tab" && (
        <Row>
          <LengthField
            label="Tab's width"
            of="board.design.handleEnd.width"
            mm={end.width ?? 50}
            onChange={(width) => onChange({ ...end, width })}
          />
          <LengthField
            label="Tab's length"
            of="board.design.handleEnd.length"
            mm={end.length ?? 90}
            onChange={(length) => onChange({ ...end, length })}
          />
          <LengthField
            label="Shoulders"
            of="board.design.handleEnd.round"
            mm={end.round ?? 0}
            onChange={(round) => onChange({ ...end, round })}
          />
        </Row>
      )}
    </>
  );
}
