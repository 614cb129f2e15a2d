// What was done, how long it took, what it came to, and what that taught.
import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useSearchParams } from "react-router";
import { api, unwrap, type LogLine } from "../api/client";
import { Away } from "../kit/away";
import { Choice, TextField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Parts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { MishapCosts } from "../rescue/MishapCosts";
import { Ledger } from "./Ledger";
import { Trials } from "./trial/Trials";

const parts = { lines: "What was done", ledger: "What it took", mishaps: "What went wrong", trials: "Trials" };
type Part = keyof typeof parts;

export default function LogbookPlace() {
  const [query, setQuery] = useSearchParams();
  const asked = query.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : "lines";
  return (
    <div className="sheet-page logbook">
      <header className="page-head">
        <h1>Logbook</h1>
      </header>
      <Parts parts={parts} open={part} onOpen={(to) => setQuery(to === "lines" ? {} : { part: to })} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {part === "lines" && <Lines />}
        {part === "ledger" && <Ledger />}
        {part === "mishaps" && <MishapCosts />}
        {part === "trials" && <Trials />}
      </div>
    </div>
  );
}

const nothing = { text: "", who: "", kind: "", run: "", from: "", to: "", notes: "", order: "newest" };
type Wished = typeof nothing;

/** asked is the part of an address that asks for what is wished. */
const asked = (w: Wished): string =>
  new URLSearchParams(Object.entries(w).filter(([k, v]) => v !== "" && v !== nothing[k as keyof Wished])).toString();

function Lines() {
  const { tables } = useWorkshop();
  const [query, setQuery] = useSearchParams();
  const [wished, setWished] = useState<Wished>(() => ({ ...nothing, ...Object.fromEntries(query) }));
  const set = (some: Partial<Wished>) => {
    const next = { ...wished, ...some };
    setWished(next);
    setQuery(asked(next), { replace: true });
  };
  const runs = useQuery({ queryKey: ["runs"], queryFn: () => unwrap(api.GET("/api/runs")) });
  const log = useInfiniteQuery({
    queryKey: ["log", wished],
    initialPageParam: 0,
    queryFn: ({ pageParam: page }) => {
      const { notes, order, ...text } = wished;
      const query = { ...text, notes: notes === "yes", order: order as "newest", page };
      return unwrap(api.GET("/api/log", { params: { query } }));
    },
    getNextPageParam: (last, all) => (last.more ? all.length : undefined),
    placeholderData: (before) => before,
  });
  const kinds = [{ value: "", label: "All work" }, ...tables.kinds.map((k) => ({ value: k, label: k }))];
  const inRun = [{ value: "", label: "All boards" }, ...(runs.data ?? []).map((r) => ({ value: r.id, label: r.name }))];
  const lines = log.data?.pages.flatMap((p) => p.lines);
  return (
    <>
      <div className="log-wished">
        <TextField label="Board, step or words" value={wished.text} onChange={(text) => set({ text })} />
        <TextField label="For whom" value={wished.who} onChange={(who) => set({ who })} />
        <Choice label="Run" value={wished.run} options={inRun} onChange={(run) => set({ run })} />
        <Choice label="Kind of work" value={wished.kind} options={kinds} onChange={(kind) => set({ kind })} />
        {(["from", "to"] as const).map((end) => (
          <div className="field" key={end}>
            <label className="form-label" htmlFor={`log-${end}`}>
              {end === "from" ? "From" : "To"}
            </label>
            <input
              id={`log-${end}`}
              className="form-control form-control-sm"
              type="date"
              value={wished[end]}
              onChange={(e) => set({ [end]: e.target.value })}
            />
          </div>
        ))}
        <label className="log-tick">
          <input
            type="checkbox"
            checked={wished.notes === "yes"}
            onChange={(e) => set({ notes: e.target.checked ? "yes" : "" })}
          />{" "}
          Only what was written down
        </label>
        <Choice
          label="Order"
          value={wished.order}
          options={[
            { value: "newest", label: "Newest first" },
            { value: "oldest", label: "As it happened" },
          ]}
          onChange={(order) => set({ order })}
        />
        <a className="btn btn-sm btn-outline-primary" href={`/api/log.csv?${asked(wished)}`} download>
          CSV
        </a>
      </div>
      {!lines ? (
        <Away of={log} />
      ) : lines.length === 0 ? (
        <p className="empty">
          {asked(wished) ? "Nothing of this kind is in the log." : "Nothing written yet. Start a step at the bench."}
        </p>
      ) : (
        <Table lines={lines} />
      )}
      {log.hasNextPage && (
        <Button size="sm" variant="outline-primary" disabled={log.isFetching} onClick={() => void log.fetchNextPage()}>
          More
        </Button>
      )}
    </>
  );
}

const happened: Record<string, string> = {
  start: "started",
  pause: "paused",
  finish: "finished",
  undo: "taken back",
  note: "noted",
};

function Table({ lines }: { lines: LogLine[] }) {
  const { time, words } = useWorkshop();
  return (
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
        {lines.map((l) => (
          <tr key={l.id}>
            <td>{time(l.at)}</td>
            <td>
              <Link to={`/${l.subject.kind === "panel" ? "timber" : "boards"}/${l.subject.id}`}>{l.name}</Link>
              {(l.for || l.run) && (
                <div className="facts">{[l.for && `for ${l.for}`, l.run].filter(Boolean).join(", ")}</div>
              )}
            </td>
            <td>{words(l.title)}</td>
            <td>
              {l.said || l.words ? words(l.said ?? "") : happened[l.event]}
              {l.words && <div className="said">“{l.words}”</div>}
              {l.picture && (
                <a href={`/api/pictures/${l.picture}`} target="_blank" rel="noreferrer">
                  <img src={`/api/pictures/${l.picture}`} alt={`Taken at ${words(l.title)}`} loading="lazy" />
                </a>
              )}
            </td>
            <td>{l.event === "finish" && `${showMinutes(l.minutes)}, about ${showMinutes(l.usual)} by the rates`}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
