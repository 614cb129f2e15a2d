// What costs most: mishaps by kind, with what would have kept them from happening.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { Away } from "../kit/away";
import { showMinutes } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { KindPicture } from "./Tell";

export function MishapCosts() {
  const { value, words } = useWorkshop();
  const costs = useQuery({ queryKey: ["log", "mishaps"], queryFn: () => unwrap(api.GET("/api/log/mishaps")) });
  if (!costs.data) return <Away of={costs} />;
  return (
    <section aria-labelledby="costs-most">
      <h2 id="costs-most">What costs you most</h2>
      {costs.data.length === 0 && <p className="empty">Nothing has gone wrong yet.</p>}
      <ul className="plain-list mishap-costs">
        {costs.data.map((c) => (
          <li key={c.kind} data-kind={c.kind}>
            <KindPicture of={c.kind} />
            <div>
              <strong>{c.name}</strong>{" "}
              <span className="facts">
                {c.times === 1 ? "once" : `${c.times} times`}
                {c.times > c.open && `: ${words(`{${c.days} d}`)} and ${value(c.cents, "cents")} lost`}
                {c.minutes > 0 && `, ${showMinutes(c.minutes)} of work`}
                {c.open > 0 && `; ${c.open} to be decided`}
              </span>
              <p>
                {words(c.before)}
                {c.warning && (
                  <span className="facts">
                    {" "}
                    The check that warns of it: <q>{words(c.warning)}</q>.
                  </span>
                )}
              </p>
              {c.ways.length > 0 && <p className="facts">Taken: {c.ways.map(words).join("; ")}.</p>}
            </div>
          </li>
        ))}
      </ul>
      <p className="facts">
        <Link to="/logbook/practice">Practise on boards that are made up</Link>
      </p>
    </section>
  );
}
