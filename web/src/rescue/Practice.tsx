// Boards that are made up, on which something has gone wrong: to learn what the checks mean. Nothing of it is kept.
import { useMutation, useQuery } from "@tanstack/react-query";
import { Link, useParams } from "react-router";
import { api, unwrap, type PracticeSheet, type WayOut } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Wrong } from "../kit/parts";
import { useTitle } from "../kit/title";
import { useWorkshop } from "../kit/workshop";
import { KindPicture } from "./Tell";
import { useWays } from "./useWays";
import { judges, WaysOut, type Judge } from "./WaysOut";

export default function PracticePlace() {
  const { key } = useParams();
  return key ? <CasePlace key={key} of={key} /> : <Cases />;
}

function useCases() {
  return useQuery({ queryKey: ["practice"], queryFn: () => unwrap(api.GET("/api/practice")), staleTime: Infinity });
}

function Cases() {
  const { words } = useWorkshop();
  const cases = useCases();
  const arrived = useArrived(cases);
  useTitle("Practice", 1);
  if (!arrived) return <Away of={cases} />;
  return (
    <div className="sheet-page rescue">
      <header className="page-head">
        <Link to="/logbook" className="back">
          Logbook
        </Link>
        <h1>Practice</h1>
      </header>
      <p>
        Twelve boards that are made up. Something has gone wrong on each: choose a way out, and see what the rules put
        first and why. Nothing of it enters your records.
      </p>
      <ul className="plain-list practice-cases">
        {arrived.map((c) => (
          <li key={c.key}>
            <Link to={`/logbook/practice/${c.key}`}>
              <KindPicture of={c.kind} />
              <span>
                <strong>{c.name}</strong>
                <span className="facts">{words(c.told)}</span>
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </div>
  );
}

function CasePlace({ of: key }: { of: string }) {
  const sheet = useQuery({
    queryKey: ["practice", key],
    queryFn: () => unwrap(api.GET("/api/practice/{key}", { params: { path: { key } } })),
    staleTime: Infinity,
  });
  const arrived = useArrived(sheet);
  if (!arrived) return <Away of={sheet} />;
  return <Solve sheet={arrived} />;
}

function Solve({ sheet: s }: { sheet: PracticeSheet }) {
  const { words, time, value } = useWorkshop();
  const cases = useCases();
  useTitle(`${s.name}, practice`, 1);
  const found = useWays(`/api/practice/${s.key}/ways`);
  const answer = useMutation({
    mutationFn: (way: WayOut) =>
      unwrap(api.GET("/api/practice/{key}/answer", { params: { path: { key: s.key }, query: { way: way.key } } })),
  });
  const next = cases.data?.[(cases.data.findIndex((c) => c.key === s.key) + 1) % cases.data.length];
  const best = found.ways.find((w) => w.key === answer.data?.best);
  return (
    <div className="sheet-page rescue">
      <header className="page-head">
        <Link to="/logbook/practice" className="back">
          Practice
        </Link>
        <h1>{s.name}</h1>
      </header>
      <p className="mishap-told">
        <KindPicture of={s.kind} />
        <span>
          {words(s.told)} It is {value(s.thick, "mm")} thick as it is drawn, and must be ready{" "}
          {time(`${s.due}T12:00:00Z`, false)}. Who judges it: {judges[s.whom as Judge].toLowerCase()}.
        </span>
      </p>
      {answer.data && (
        <section className="practice-answer" role="status" data-right={answer.data.right}>
          <h2>{answer.data.right ? "That is the best way" : "There is a better way"}</h2>
          {!answer.data.right && best && <p>{words(best.label)}.</p>}
          <p>{words(answer.data.why)}</p>
          {next && <Link to={`/logbook/practice/${next.key}`}>Next: {next.name}</Link>}
        </section>
      )}
      <Wrong error={answer.error} />
      <WaysOut
        of={s}
        found={found}
        whom={s.whom as Judge}
        take="This is what I would do"
        pending={answer.isPending || !found.over}
        onTake={(w) => answer.mutate(w)}
        blind={!answer.data}
      />
    </div>
  );
}
