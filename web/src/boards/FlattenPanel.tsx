// Thickness, from the rough to the sanded board.
import { Choice, LengthField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { thicknesses, type PanelProps } from "./panel";

export function FlattenPanel({ board: b, r, set }: PanelProps) {
  const { length } = useWorkshop();
  const planing = r.course.steps.find((s) => s.key === "flatten");
  const rungs = r.figures.filter((f) => thicknesses.has(f.key));
  return (
    <>
      <h2>Thickness</h2>
      <LengthField
        label="Wanted in the end"
        name="thickness"
        of="board.design.thickness"
        mm={b.design.thickness}
        onChange={(thickness) => set({ design: { thickness } }, "thickness")}
      />
      <ol className="ladder" aria-label="Thickness from rough to sanded">
        {rungs.map((f) => (
          <li key={f.key}>
            <Working
              figure={f}
              line={
                <>
                  <span className="rung-name">{f.label}</span>
                  <span className="bar" style={{ width: `${(f.value / Math.max(1, r.budget.rough)) * 52}%` }} />
                  <strong>{length(f.value)}</strong>
                </>
              }
            />
          </li>
        ))}
      </ol>
      <Choice
        label="Order"
        value={b.cut.flattenWhole ? "whole" : "cut"}
        options={[
          { value: "cut", label: `cut the blank first: ${length(r.budget.most)} at the most` },
          { value: "whole", label: `flatten the whole slab first: ${length(r.wholeBudget.most)}` },
        ]}
        onChange={(v) => set({ cut: { flattenWhole: v === "whole" } })}
      />
      {r.course.steps.some((s) => s.key === "live-edge") && (
        <Choice
          label="Bark on the live edge"
          value={b.cut.bark ?? ""}
          options={[
            { value: "", label: "off entirely" },
            { value: "inner", label: "off down to the inner bark" },
            { value: "kept", label: "kept: it sheds" },
          ]}
          onChange={(bark) => set({ cut: { bark } })}
        />
      )}
      <p className="facts">
        {planing ? `${planing.detail}: ${showMinutes(planing.minutes)} hands-on.` : "Nothing is planed off."}
      </p>
    </>
  );
}
