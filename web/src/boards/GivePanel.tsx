// For whom, and by when; the card that goes with it, what it costs, and what is done when it comes back.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useId } from "react";
import Button from "react-bootstrap/Button";
import { useSearchParams } from "react-router";
import { api, unwrap, type Board, type Reckoned } from "../api/client";
import { Choice, DayField, Row, TextField, Tick } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Amounts, Parts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { CameBack } from "./CameBack";
import { Card } from "./Card";
import type { PanelProps } from "./panel";
import { Price } from "./Price";
import { ServesFields } from "./ServesFields";
import { Steps } from "./Steps";

const parts = { whom: "For whom", card: "Card", price: "Price", back: "It came back" };
type Part = keyof typeof parts;

export function GivePanel(panel: PanelProps) {
  const { board: b, sheet } = panel;
  const [query, setQuery] = useSearchParams();
  const asked = query.get("part") ?? (query.get("back") ? "back" : "");
  const part: Part = asked in parts ? (asked as Part) : "whom";
  return (
    <>
      <h2>Give</h2>
      <Parts
        parts={parts}
        open={part}
        onOpen={(to) => setQuery(to === "whom" ? { stage: "give" } : { stage: "give", part: to })}
      />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {part === "whom" && <Whom {...panel} />}
        {part === "card" && <Card {...panel} />}
        {part === "price" && <Price panel={panel} />}
        {part === "back" && <CameBack board={b} version={panel.stored} given={sheet.given} />}
      </div>
    </>
  );
}

function Whom({ board: b, r, set, sheet, applyPatch }: PanelProps) {
  const { value, words } = useWorkshop();
  const client = useQueryClient();
  const given = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/boards/{id}/given", { params: { path: { id: b.id } }, body: { given: !sheet.given } })),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <>
      <Row>
        <PersonField give={b.give} set={set} />
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
        <DayField
          name="due"
          label="Ready for food by"
          value={b.give.due}
          onChange={(due) => set({ give: { due } }, "due")}
        />
        <ServesFields give={b.give} set={set} />
      </Row>
      <Tick
        label="Used dry: a tray, wiped and never washed"
        value={b.give.dry ?? false}
        onChange={(dry) => set({ give: { dry } }, "dry")}
      />
      <Tick label="It goes by post" value={b.give.sent ?? false} onChange={(sent) => set({ give: { sent } }, "sent")} />
      <TextField
        label="Your own words"
        rows={2}
        value={b.give.note}
        onChange={(note) => set({ give: { note } }, "note")}
      />
      <InTime r={r} applyPatch={applyPatch} />
      <Packing r={r} />
      <h2>Plan</h2>
      <Steps course={r.course} cautions={r.cautions} />
      <h2>From the shelf</h2>
      <Amounts rows={r.shelf.map((u) => [words(u.item), value(u.amount, u.unit)])} />
      <Button size="sm" variant="outline-primary" className="mt-2" onClick={() => given.mutate()}>
        {sheet.given ? "Not given after all" : "It is given away"}
      </Button>
    </>
  );
}

/** PersonField is whom it is for: one of the workshop's people, or any name. */
function PersonField({ give, set }: { give: Board["give"]; set: PanelProps["set"] }) {
  const id = useId();
  const people = useQuery({
    queryKey: ["people", give.for, false, 0],
    queryFn: () => unwrap(api.GET("/api/people", { params: { query: { q: give.for, page: 0, bin: false } } })),
    meta: { aside: true },
  });
  const known = people.data?.items ?? [];
  const chosen = known.find((p) => p.id === give.person);
  const take = (typed: string) => {
    const found = known.find((p) => p.person.name.toLowerCase() === typed.trim().toLowerCase());
    set({ give: { for: typed, person: found?.id ?? "", ...(found ? { whom: found.person.whom ?? "" } : {}) } }, "for");
  };
  return (
    <div className="field">
      <label className="form-label" htmlFor={id}>
        For whom
      </label>
      <input
        id={id}
        className="form-control form-control-sm"
        value={give.for}
        list={`${id}-people`}
        autoComplete="off"
        onChange={(e) => take(e.target.value)}
      />
      <datalist id={`${id}-people`}>
        {known.map((p) => (
          <option key={p.id} value={p.person.name} />
        ))}
      </datalist>
      {chosen?.person.likes && <div className="facts">Likes: {chosen.person.likes}</div>}
      {chosen?.person.nuts && <div className="late">Somebody there must keep away from nuts</div>}
    </div>
  );
}

/** InTime is whether it is ready in time, and what would help. */
function InTime({ r, applyPatch }: { r: Reckoned; applyPatch: PanelProps["applyPatch"] }) {
  const { time, words } = useWorkshop();
  const c = r.course;
  return (
    <>
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
    </>
  );
}

/** Packing is how it leaves the shop, and when it may. */
function Packing({ r }: { r: Reckoned }) {
  const { time, words } = useWorkshop();
  const p = r.gift.packing;
  return (
    <details className="packing">
      <summary>
        Packing
        {p.from && (
          <>
            : it may {p.sent ? "be sent" : "leave"} from {time(p.from, false)}
          </>
        )}
        {p.hot && <span className="late">, but not in the heat</span>}
      </summary>
      <ol>
        {p.steps.map((s) => (
          <li key={s}>{words(s)}</li>
        ))}
      </ol>
      {p.why && <p className="facts">Until then it waits for {p.why}.</p>}
      {p.instead && <p className="late">{words(p.instead)}.</p>}
    </details>
  );
}
