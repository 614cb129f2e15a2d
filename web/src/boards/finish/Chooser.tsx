// Every way to finish this board side by side, ranked by what matters.
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Board } from "../../api/client";
import { showMinutes } from "../../kit/length";
import { Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import type { PanelProps } from "../panel";

const weights = ["not", "a little", "much", "most"];

export function Chooser({ board: b, change }: Pick<PanelProps, "board" | "change">) {
  const [open, setOpen] = useState(false);
  return (
    <section className="chooser" aria-labelledby="chooser">
      <h3 id="chooser">
        <button type="button" className="text-link" aria-expanded={open} onClick={() => setOpen(!open)}>
          Which finish for this board?
        </button>
      </h3>
      {open && <Options board={b} change={change} />}
    </section>
  );
}

function Options({ board: b, change }: Pick<PanelProps, "board" | "change">) {
  const { tables, value } = useWorkshop();
  const needs = b.finish.needs ?? {};
  const ways = useQuery({
    queryKey: ["finishes", b.id, b.finish, b.design, b.give.due],
    queryFn: () => unwrap(api.POST("/api/boards/{id}/finishes", { params: { path: { id: b.id } }, body: b })),
    placeholderData: keepPreviousData,
  });
  const weigh = (name: string, weight: number) =>
    change((now) => ({ ...now, finish: { ...now.finish, needs: { ...now.finish.needs, [name]: weight } } }));
  const take = (choice: Board["finish"]) => change((now) => ({ ...now, finish: { list: [], name: "", ...choice } }));
  return (
    <>
      <div className="needs" role="group" aria-label="What matters">
        {tables.needs.map((n) => (
          <div key={n.name} className="need">
            <span>{n.label}</span>
            <div className="d-flex gap-1" role="group" aria-label={n.label}>
              {weights.map((word, w) => (
                <Button
                  key={w}
                  size="sm"
                  variant={(needs[n.name] ?? 0) === w ? "primary" : "outline-primary"}
                  aria-pressed={(needs[n.name] ?? 0) === w}
                  aria-label={`${n.label} ${w}: ${word}`}
                  onClick={() => weigh(n.name, w)}
                >
                  {w}
                </Button>
              ))}
            </div>
          </div>
        ))}
      </div>
      <Wrong error={ways.error} />
      {ways.data && (
        <div className="options-table">
          <table className="rungs options">
            <thead>
              <tr>
                <th scope="col">Finish</th>
                <th scope="col">Your time</th>
                <th scope="col">To food</th>
                <th scope="col">Washes</th>
                <th scope="col">Cost</th>
                <th scope="col">Bears</th>
                <th scope="col">Colour</th>
                {ways.data.some((o) => o.score > 0) && <th scope="col">Suits</th>}
              </tr>
            </thead>
            <tbody>
              {ways.data.map((o) => (
                <tr key={`${o.own}${o.name}`} className={o.chosen ? "is-open" : ""}>
                  <th scope="row">
                    <button
                      type="button"
                      className="text-link"
                      aria-pressed={o.chosen}
                      onClick={() => take(o.choice)}
                      title={o.why}
                    >
                      {o.name}
                    </button>
                    {o.nut && <span className="facts"> nut oil</span>}
                    {o.why && <div className="facts">{o.why}</div>}
                  </th>
                  <td>{showMinutes(o.handsOn)}</td>
                  <td>{value(Math.round(o.days * 10) / 10, "d")}</td>
                  <td>{Math.round(o.washes)}</td>
                  <td>{value(o.cost, "cents")}</td>
                  <td>{value(o.heat, "°C")}</td>
                  <td>{o.tint}</td>
                  {ways.data.some((p) => p.score > 0) && <td>{Math.round(o.score)}</td>}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
      <p className="facts">
        Washes: until it is as bare as a board without, by your own trials where they have told, else a rule of the
        trade. Days by waits and rest alone.
      </p>
    </>
  );
}
