// Where a board lies on its wood, by numbers.
import type { Board } from "../api/client";
import { LengthField, NumberField } from "../kit/fields";

type Place = Board["placement"];

export function PlaceFields({ at, onChange }: { at: Place; onChange: (part: Partial<Place>, kind: string) => void }) {
  return (
    <>
      <LengthField
        label="From the butt"
        name="place-x"
        of="board.placement.x"
        mm={at.x}
        onChange={(x) => onChange({ x }, "px")}
      />
      <LengthField
        label="From the chalk line"
        name="place-y"
        of="board.placement.y"
        mm={at.y}
        onChange={(y) => onChange({ y }, "py")}
      />
      <NumberField
        label="Turned"
        unit="°"
        of="board.placement.angle"
        value={at.angle}
        onChange={(angle) => onChange({ angle }, "pa")}
      />
    </>
  );
}
