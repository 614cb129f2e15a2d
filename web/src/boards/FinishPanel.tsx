// Coats, amounts and waits.
import { type Board } from "../api/client";
import { Choice, NumberField, Row } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Amounts } from "../kit/parts";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

export function FinishPanel({ board: b, r, set }: PanelProps) {
  const { tables, value, time } = useWorkshop();
  const school = r.finish.school;
  const food = r.course.steps.findLast((s) => s.restUntil)?.restUntil;
  return (
    <>
      <h2>Finish</h2>
      <Choice
        label="School"
        value={b.finish.school}
        options={tables.schools.map((s) => ({ value: s.name as Board["finish"]["school"], label: s.name }))}
        onChange={(s) => set({ finish: { school: s, coats: 0 } })}
      />
      <Row>
        <NumberField
          label="Coats"
          whole
          value={b.finish.coats || school.coats}
          least={1}
          most={school.most}
          onChange={(coats) => set({ finish: { coats } }, "coats")}
        />
        {r.finish.paste && (
          <NumberField
            label="Oil to one of wax"
            of="board.finish.ratio"
            value={b.finish.ratio}
            step={0.5}
            onChange={(ratio) => set({ finish: { ratio } }, "ratio")}
          />
        )}
      </Row>
      <ol className="cuts">
        {r.finish.coats.map((c, i) => (
          <li key={i}>
            <Working
              figure={c.working}
              line={
                <>
                  <span className="figure-label">{c.product}</span>
                  <strong>{value(c.grams, "g")}</strong>
                </>
              }
            />
            <span className="facts">
              soak {showMinutes(c.soak)}
              {c.buff >= 0 && `, buff ${c.buff > 0 ? `after ${showMinutes(c.buff)}` : "at once"}`}
              {c.wait > 0 && `, next coat after ${showMinutes(c.wait)}`}
            </span>
          </li>
        ))}
      </ol>
      <Amounts rows={[["Ready for food", food ? time(food) : "once the last coat has rested"]]} />
      {school.curing && (
        <p className="facts">
          Its rags heat themselves and burn: dry them flat outdoors, or keep them under water in a closed metal can.
        </p>
      )}
    </>
  );
}
