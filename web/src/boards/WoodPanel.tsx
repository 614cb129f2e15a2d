// What the piece is, and what it costs.
import { Link } from "react-router";
import { LengthField } from "../kit/fields";
import { Amounts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

export function WoodPanel({ board: b, r, wood, sheet, set }: PanelProps) {
  const { value } = useWorkshop();
  const s = wood.species;
  return (
    <>
      <h2>{s.name}</h2>
      <p>
        <em>{s.botanical}</em>
        {s.note && `; ${s.note}`}
      </p>
      <Amounts
        rows={[
          ["Density", value(s.density, "kg/m³")],
          ["Hardness, Janka", value(s.janka, "N")],
          ["Bending strength", `${value(s.mor, "MPa")} along the grain`],
          ["Tension across the grain", `${value(s.tensionPerp, "MPa")}${s.tensionGuess ? ", estimated" : ""}`],
          ["Pores", s.pores],
          ["Near food", s.food],
          ["Dust", s.dust],
          ["Colour", s.colourChange || "stays"],
          [
            "Moisture",
            wood.moisture > 0 ? `${wood.moisture} %; the home's mean is ${wood.homeMean.toFixed(1)} %` : "not read yet",
          ],
        ]}
      />
      {r.course.steps.some((o) => o.key === "dry") && (
        <LengthField
          label="Mill it first to, 0 to leave it thick"
          of="board.cut.millFirst"
          mm={b.cut.millFirst ?? 0}
          onChange={(millFirst) => set({ cut: { millFirst } }, "millFirst")}
        />
      )}
      <Link className="btn btn-sm btn-outline-primary" to={`/timber/${sheet.piece}`}>
        Measure {sheet.pieceName}
      </Link>
    </>
  );
}
