// Where a mark lies, by the numbers that one measures: length × width at a place.
import type { Mark, Point } from "../api/client";
import { LengthField, NumberField, Row } from "../kit/fields";
import { put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";
import { placed, placeOf, type Place, type Placed } from "./place";

interface Props {
  mark: Placed;
  drawn: Mark["drawn"];
  /** The list of the piece in which it stands. */
  list: "flaws" | "features";
  change: (next: (now: Placed) => Partial<Placed>) => void;
}

export function MarkPlace({ mark, drawn, list, change }: Props) {
  const { range } = useWorkshop();
  const at = placeOf(mark, drawn);
  const set = (part: Partial<Place>) => change((now) => placed(now, drawn, part));
  const halves = range(`piece.${list}.a`);
  const whole = { least: 2 * halves.least, most: 2 * halves.most };
  const line = mark.line ?? [];
  return (
    <>
      <Row>
        <LengthField label="Length" mm={at.length} {...whole} onChange={(length) => set({ length })} />
        {drawn === "line" ? (
          <LengthField label="Width" of={`piece.${list}.width`} mm={at.width} onChange={(width) => set({ width })} />
        ) : (
          <LengthField label="Width" mm={at.width} {...whole} onChange={(width) => set({ width })} />
        )}
        {drawn !== "area" && (
          <NumberField
            label="Turned"
            unit="°"
            of={`piece.${list}.angle`}
            value={Math.round(at.angle * 10) / 10}
            onChange={(angle) => set({ angle })}
          />
        )}
      </Row>
      <Row>
        <LengthField label="Middle, from the butt" signed mm={at.x} onChange={(x) => set({ x })} />
        <LengthField label="from the chalk line" signed mm={at.y} onChange={(y) => set({ y })} />
      </Row>
      {drawn !== "oval" && (
        <details className="corners">
          <summary>
            {drawn === "area" ? "Its corners" : "Its points"}, {line.length}
          </summary>
          <Points line={line} onChange={(i, p) => change((now) => ({ line: put(now.line ?? [], i, p) }))} />
        </details>
      )}
    </>
  );
}

/** Points are set one by one, where dragging them is not exact enough. */
function Points({ line, onChange }: { line: Point[]; onChange: (i: number, p: Partial<Point>) => void }) {
  return line.map((p, i) => (
    <Row key={i}>
      <LengthField label={`Point ${i + 1}: from the butt`} signed mm={p.x} onChange={(x) => onChange(i, { x })} />
      <LengthField label="from the chalk line" signed mm={p.y} onChange={(y) => onChange(i, { y })} />
    </Row>
  ));
}
