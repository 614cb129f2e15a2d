// One run: its matrix, its boards, what is cut where, what it takes, and what it is.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useSyncExternalStore } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { named } from "../api/asking";
import { api, storing, unwrap, type RunSheet } from "../api/client";
import { usePresses } from "../bench/kept";
import { operationsWith } from "../bench/presses";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { editor, useDocument, useUndoKeys } from "../kit/document/useDocument";
import { Silhouette, silhouetteOf } from "../kit/drawing";
import { NumberField, Row, TextField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Parts, Wrong } from "../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { useTitle } from "../kit/title";
import { useWorkshop } from "../kit/workshop";
import { Cuts, Needs } from "./Cuts";
import { Lay } from "./Lay";
import { Matrix } from "./Matrix";
import { RunPrice } from "./RunPrice";

const parts = { matrix: "Matrix", boards: "Boards", lay: "Lay out", cuts: "Cuts", needs: "Needs", price: "Price" };
type Part = keyof typeof parts;

export default function RunPlace() {
  const { id = "" } = useParams();
  const run = useQuery({
    queryKey: ["run", id],
    queryFn: () => unwrap(api.GET("/api/runs/{id}", { params: { path: { id } } })),
    refetchInterval: 60_000,
  });
  const arrived = useArrived(run);
  if (!arrived) return <Away of={run} />;
  return <Sheet key={arrived.id} of={arrived} />;
}

function Sheet({ of }: { of: RunSheet }) {
  const client = useQueryClient();
  const [query, setQuery] = useSearchParams();
  const presses = usePresses();
  useSyncExternalStore(presses.subscribe, presses.changes); // drawn anew when something is pressed or sent
  const path = { id: of.id };
  const d = useDocument({
    name: `run ${of.id}`,
    doc: of.run,
    version: of.version,
    result: null,
    newest: useMemo(() => ({ doc: of.run, version: of.version }), [of]),
    draft: () => Promise.resolve(null),
    save: async (run, version, name) => {
      const saved = await storing(
        api.PUT("/api/runs/{id}", { ...named(name), params: { path }, body: { version, run } }),
      );
      if ("stored" in saved) return saved;
      void client.invalidateQueries({ queryKey: ["runs"] });
      return { version: saved.data.version };
    },
  });
  useUndoKeys(d);
  useTitle(d.doc.name, 1);
  const set = editor(d);
  const asked = query.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : "matrix";
  return (
    <div className="sheet-page run">
      <header className="page-head">
        <Link to="/runs" className="back">
          Runs
        </Link>
        <h1>
          <input
            className="title-field"
            aria-label="Name of the run"
            value={d.doc.name}
            onChange={(e) => set({ name: e.target.value }, "name")}
          />
        </h1>
        <SaveMark doc={d} />
        <UndoButtons doc={d} />
        <Downloads of={of} />
      </header>
      <SaveNotice doc={d} />
      <Row>
        <TextField
          label="Occasion"
          value={d.doc.occasion ?? ""}
          onChange={(occasion) => set({ occasion }, "occasion")}
          placeholder="Midsummer supper of the orchard"
        />
        <div className="field">
          <label className="form-label" htmlFor="run-day">
            Ready on
          </label>
          <input
            id="run-day"
            className="form-control form-control-sm"
            type="date"
            value={d.doc.day ?? ""}
            onChange={(e) => set({ day: e.target.value }, "day")}
          />
        </div>
        <NumberField
          label="Wanted"
          of="run.count"
          whole
          value={d.doc.count}
          onChange={(count) => set({ count }, "count")}
        />
        <NumberField
          label={`Spares, by the rule ${of.spares}`}
          of="run.spares"
          whole
          value={d.doc.spares}
          onChange={(spares) => set({ spares }, "spares")}
        />
      </Row>
      <Parts parts={parts} open={part} onOpen={(to) => setQuery({ part: to })} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {part === "matrix" && (
          <Matrix
            run={of}
            operations={operationsWith(of.matrix.operations, presses.untold(of.line))}
            setups={d.doc.setups ?? {}}
            onSetup={(operation, name) => set((now) => ({ setups: { ...now.setups, [operation]: name } }), "setups")}
          />
        )}
        {part === "boards" && <Boards of={of} />}
        {part === "lay" && (
          <Lay
            of={of}
            run={d.doc}
            saved={d.state.kind === "saved"}
            onChange={(some) => set(some, Object.keys(some)[0])}
          />
        )}
        {part === "cuts" && <Cuts of={of} />}
        {part === "needs" && <Needs of={of} />}
        {part === "price" && <RunPrice id={of.id} line={of.line} />}
      </div>
      <Foot id={of.id} />
    </div>
  );
}

/** Downloads is a run on paper, and as tables. */
function Downloads({ of }: { of: RunSheet }) {
  return (
    <>
      <a className="btn btn-sm btn-outline-primary ms-auto" href={`/api/runs/${of.id}/matrix.csv`} download>
        CSV
      </a>
      <a className="btn btn-sm btn-outline-primary" href={`/api/runs/${of.id}/matrix.xlsx`} download>
        XLSX
      </a>
      <a className="btn btn-sm btn-outline-primary" href={`/api/runs/${of.id}/sheet.pdf`} download>
        Run sheet
      </a>
      {of.boards.length > 0 && (
        <>
          <a className="btn btn-sm btn-outline-primary" href={`/api/runs/${of.id}/labels.pdf`} download>
            Labels
          </a>
          <a className="btn btn-sm btn-outline-primary" href={`/api/runs/${of.id}/cards.pdf?kind=cards`} download>
            Cards
          </a>
          <a className="btn btn-sm btn-outline-primary" href={`/api/runs/${of.id}/cards.pdf?kind=tags`} download>
            Tags
          </a>
        </>
      )}
    </>
  );
}

/** Foot puts a run away, or begins another like it. */
function Foot({ id }: { id: string }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const path = { id };
  const bin = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/runs/{id}", { params: { path } })),
    onSuccess: () => {
      void client.invalidateQueries();
      void navigate("/runs");
    },
  });
  const again = useMutation({
    mutationFn: () => unwrap(api.POST("/api/runs/{id}/copy", { params: { path } })),
    onSuccess: (made) => {
      void client.invalidateQueries();
      void navigate(`/runs/${made.id}?part=lay`);
    },
  });
  return (
    <div className="trial-foot">
      <Button size="sm" variant="outline-secondary" onClick={() => bin.mutate()}>
        Put it away
      </Button>
      <span className="facts">Its boards stay as they are.</span>
      <Button size="sm" variant="outline-primary" disabled={again.isPending} onClick={() => again.mutate()}>
        Begin it again
      </Button>
      <span className="facts">As many of each shape are to be laid anew.</span>
      <Wrong error={again.error} />
    </div>
  );
}

/** Boards tells who gets which, from which slab, and when it is ready. */
function Boards({ of }: { of: RunSheet }) {
  const { time } = useWorkshop();
  const client = useQueryClient();
  const out = useMutation({
    mutationFn: (board: string) =>
      unwrap(
        api.POST("/api/runs/{id}/boards", {
          params: { path: { id: of.id } },
          body: { boards: [board], out: true },
        }),
      ),
    onSuccess: () => client.invalidateQueries(),
  });
  const deal = useMutation({
    mutationFn: () => unwrap(api.POST("/api/runs/{id}/deal", { params: { path: { id: of.id } } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const waiting = of.run.people?.length ?? 0;
  const free = of.boards.some((b) => !b.given && !b.for);
  return (
    <>
      {waiting > 0 && (
        <p>
          {waiting === 1 ? "1 person waits" : `${waiting} people wait`} for a board.{" "}
          {free && (
            <Button size="sm" variant="outline-primary" disabled={deal.isPending} onClick={() => deal.mutate()}>
              Deal those that are for nobody
            </Button>
          )}
        </p>
      )}
      <Wrong error={deal.error ?? out.error} />
      {of.boards.length === 0 && (
        <p className="empty">
          No board yet. Lay them on wood under <em>Lay out</em>, or choose some on their own pages.
        </p>
      )}
      <ul className="plain-list run-boards">
        {of.boards.map((b) => (
          <li key={b.id}>
            <Silhouette {...silhouetteOf(b)} label="" seed={b.id} />
            <div>
              <Link to={`/boards/${b.id}`}>{b.name}</Link>
              <div className="facts">
                {b.slab}
                {b.for && `, for ${b.for}`}
                {b.due && `, wanted ${time(`${b.due}T12:00:00Z`, false)}`}
              </div>
              {b.given ? (
                <div>given away</div>
              ) : (
                b.finish && (
                  <div className={b.late ? "late" : ""}>
                    ready {time(b.finish)}
                    {b.due &&
                      (b.late ? `, too late by ${showMinutes(-b.slack)}` : `, ${showMinutes(b.slack)} to spare`)}
                  </div>
                )
              )}
            </div>
            <Button size="sm" variant="link" disabled={out.isPending} onClick={() => out.mutate(b.id)}>
              Take out of the run
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}
