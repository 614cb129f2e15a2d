// What was done, how long it took, and what that taught.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { Away } from "../kit/away";
import { showMinutes } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { Trials } from "./trial/Trials";

const happened: Record<string, string> = {
  start: "started",
  pause: "paused",
  finish: "finished",
  undo: "taken back",
  note: "noted",
};

export default function LogbookPlace() {
  const { time, words } = useWorkshop();
  const log = useQuery({ queryKey: ["log"], queryFn: () => unwrap(api.GET("/api/log")) });
  if (!log.data) return <Away of={log} />;
  const pace = Object.entries(log.data.pace).sort();
  return (
    <div className="sheet-page">
      <header className="page-head">
        <h1>Logbook</h1>
      </header>
      <Trials />
      {pace.length > 0 && (
        <section className="pace" aria-labelledby="pace">
          <h2 id="pace">Your pace</h2>
          <p className="facts">
            Actual to estimated minutes, drawn toward one while there are few; every plan uses it.
          </p>
          <ul>
            {pace.map(([kind, f]) => (
              <li key={kind}>
                {kind} <strong>× {f}</strong>
              </li>
            ))}
          </ul>
        </section>
      )}
      {log.data.lines.length === 0 ? (
        <p className="empty">Nothing written yet. Start a step at the bench.</p>
      ) : (
        <table className="log">
          <thead>
            <tr>
              <th scope="col">When</th>
              <th scope="col">Board</th>
              <th scope="col">Step</th>
              <th scope="col">What</th>
              <th scope="col">Took</th>
            </tr>
          </thead>
          <tbody>
            {log.data.lines.map((l) => (
              <tr key={l.id}>
                <td>{time(l.at)}</td>
                <td>
                  <Link to={`/${l.subject.kind === "panel" ? "timber" : "boards"}/${l.subject.id}`}>{l.name}</Link>
                </td>
                <td>{words(l.title)}</td>
                <td>{l.said ? words(l.said) : happened[l.event]}</td>
                <td>
                  {l.event === "finish" ? `${showMinutes(l.minutes)}, about ${showMinutes(l.usual)} by the rates` : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}
