// One time that clamps are tightened: its drawing, and what must be at hand.
import type { Glued, Pressed } from "../../api/client";
import { showMinutes } from "../../kit/length";
import { Amounts } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { ClampDrawing } from "./ClampDrawing";

export function Pressing({ pressed: k, parts }: { pressed: Pressed; parts: Pick<Glued, "parts" | "first"> }) {
  const { length, value } = useWorkshop();
  return (
    <section className="pressing" aria-label={k.name}>
      <h3>{k.name}</h3>
      <ClampDrawing pressed={k} glued={parts} />
      <Amounts
        rows={[
          ["Close it within", `${showMinutes(k.open)}, spread in ${showMinutes(k.spread)}`],
          ["Glue", value(Math.ceil(k.grams), "g")],
          [
            "Clamps",
            `${k.count}, at most ${length(Math.floor(k.spacing))} apart${k.short > 0 ? `; ${k.short} missing` : ""}`,
          ],
          ["Force", `${value(Math.round(k.force), "N")} in all`],
          ["They open", length(Math.ceil(k.reach))],
          ["In clamps", showMinutes(k.clamped)],
        ]}
      />
    </section>
  );
}
