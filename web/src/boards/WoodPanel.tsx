// What the piece is, and what it costs.
import { Link } from "react-router";
import { Amounts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

export function WoodPanel({ wood, sheet }: PanelProps) {
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
      <Link className="btn btn-sm btn-outline-primary" to={`/timber/${sheet.piece}`}>
        Measure {sheet.pieceName}
      </Link>
    </>
  );
}
