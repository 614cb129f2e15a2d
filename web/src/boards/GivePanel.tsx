// For whom, by when, and the plan that gets there.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { api, unwrap } from "../api/client";
import { Choice, Row, TextField, Tick } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Amounts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";
import { Price } from "./Price";
import { ServesFields } from "./ServesFields";
import { Steps } from "./Steps";

export function GivePanel({ board: b, r, set, sheet, applyPatch }: PanelProps) {
  const { time, value, words } = useWorkshop();
  const client = useQueryClient();
  const given = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/boards/{id}/given", { params: { path: { id: b.id } }, body: { given: !sheet.given } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const c = r.course;
  return (
    <>
      <h2>Give</h2>
      <Row>
        <TextField label="For whom" value={b.give.for} onChange={(v) => set({ give: { for: v } }, "for")} />
        <Choice
          label="It is"
          value={b.give.whom ?? ""}
          options={[
            { value: "", label: "a gift" },
            { value: "own", label: "for yourself" },
            { value: "customer", label: "for a customer" },
          ]}
          onChange={(whom) => set({ give: { whom } })}
        />
      </Row>
      <Row>
        <div className="field">
          <label className="form-label" htmlFor="due">
            Ready for food by
          </label>
          <input
            id="due"
            className="form-control form-control-sm"
            type="date"
            value={b.give.due}
            onChange={(e) => set({ give: { due: e.target.value } }, "due")}
          />
        </div>
        <ServesFields give={b.give} set={set} />
      </Row>
      <Tick
        label="Used dry: a tray, wiped and never washed"
        value={b.give.dry ?? false}
        onChange={(dry) => set({ give: { dry } }, "dry")}
      />
      <TextField
        label="Your own words"
        rows={2}
        value={b.give.note}
        onChange={(note) => set({ give: { note } }, "note")}
      />
      <div className={`plan-sum ${c.late ? "late" : ""}`}>
        {c.unplaced ? (
          <strong>Your sessions do not hold this work. Add sessions in the shop.</strong>
        ) : (
          <>
            <div>
              Earliest finish <strong>{c.finish ? time(c.finish) : "not known"}</strong>
            </div>
            {c.due && (
              <>
                <div>
                  Latest start <strong>{c.latestStart ? time(c.latestStart) : c.done ? "done" : "in the past"}</strong>
                </div>
                <div>
                  <strong>
                    {c.late ? `Too late by ${showMinutes(-c.slack)}` : `${showMinutes(c.slack)} to spare`}
                  </strong>
                </div>
              </>
            )}
            <div className="facts">{showMinutes(c.handsOn)} of work still to do.</div>
          </>
        )}
      </div>
      {r.savings.length > 0 && (
        <p className="facts">
          One more tool: {r.savings.map((o) => `${o.tool} saves ${showMinutes(o.minutes)}`).join(", ")}.
        </p>
      )}
      {r.helps.length > 0 && (
        <div className="helps">
          <strong>What would help</strong>
          {r.helps.map((h, i) => (
            <Button key={i} size="sm" variant="outline-primary" onClick={() => applyPatch(h.patch)}>
              {words(h.label)}: saves {showMinutes(h.saves)}
              {h.enough ? ", in time" : ", still late"}
            </Button>
          ))}
        </div>
      )}
      <h2>Plan</h2>
      <Steps course={c} cautions={r.cautions} />
      <h2>From the shelf</h2>
      <Amounts rows={r.shelf.map((u) => [words(u.item), value(u.amount, u.unit)])} />
      <Price board={b.id} version={sheet.version} />
      <h2>Care note</h2>
      <div className="care">
        {b.give.note && <p>{b.give.note}</p>}
        {r.care.map((line, i) => (
          <p key={i}>{words(line)}</p>
        ))}
      </div>
      <Button size="sm" variant="outline-primary" onClick={() => given.mutate()}>
        {sheet.given ? "Not given after all" : "It is given away"}
      </Button>
    </>
  );
}
