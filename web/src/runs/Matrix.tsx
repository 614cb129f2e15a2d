// The matrix of a run: boards down, operations across. At the phone one operation at a time.
import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { serverNow } from "../api/asking";
import type { Operation, RunSheet } from "../api/client";
import { usePresses } from "../bench/kept";
import { clock } from "../bench/clock";
import type { Event } from "../bench/presses";
import { NumberField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { Setup } from "./Setup";

type Cell = Operation["cells"][number];

const marks: Record<Cell["state"], string> = {
  waits: "M9 12h6",
  ready: "M12 5a7 7 0 1 0 .01 0z",
  "in hand": "M12 5a7 7 0 1 0 .01 0zM12 5v14a7 7 0 0 0 0-14z",
  drying: "M7 5h10M7 19h10M8 5c0 5 8 9 8 14M16 5c0 5-8 9-8 14",
  done: "M5 13l4 4 10-11",
};

/** Mark is the state of a cell as a sign, with its word for those who do not see it. */
function Mark({ cell, at }: { cell: Cell; at: string }) {
  const left = cell.until ? new Date(cell.until).getTime() - serverNow() : 0;
  return (
    <span
      className={`cell cell-${cell.state.replace(" ", "-")} ${cell.late ? "late" : ""}`}
      title={`${at}: ${cell.state}`}
    >
      <svg viewBox="0 0 24 24" width="20" height="20" aria-hidden="true">
        <path d={marks[cell.state]} />
      </svg>
      <span className="visually-hidden">{cell.state}</span>
      {cell.state === "drying" && left > 0 && (
        <small>{left > 48 * 3600e3 ? showMinutes(left / 60000) : clock(left)}</small>
      )}
    </span>
  );
}

const open = (c: Cell) => c.state === "ready" || c.state === "in hand";

interface MatrixProps {
  run: RunSheet;
  operations: Operation[];
  /** Names of the set-ups that operations are made with, by key. */
  setups: Record<string, string>;
  onSetup: (operation: string, name: string) => void;
}

export function Matrix({ run, operations, setups, onSetup }: MatrixProps) {
  const { words } = useWorkshop();
  const first = operations.find((o) => o.cells.some(open)) ?? operations[0];
  const [picked, setPicked] = useState<string>();
  const shown = operations.find((o) => o.key === picked) ?? first;
  if (!shown) return <p className="empty">Nothing is to be done on the boards of this run.</p>;
  const boards = run.boards.filter((b) => operations.some((o) => o.cells.some((c) => c.subject.id === b.id)));
  return (
    <div className="matrix">
      <Working
        figure={run.matrix.saved}
        line={
          <>
            <strong className="figure-label">{run.matrix.saved.label}</strong> {showMinutes(run.matrix.saved.value)}
          </>
        }
      />
      <label className="matrix-pick field">
        <span className="form-label">Operation</span>
        <select className="form-select" value={shown.key} onChange={(e) => setPicked(e.target.value)}>
          {operations.map((o) => (
            <option key={o.key} value={o.key}>
              {words(o.title)} ({o.cells.filter((c) => c.state === "done" || c.state === "drying").length} of{" "}
              {o.cells.length} done)
            </option>
          ))}
        </select>
      </label>
      <div className="matrix-halves">
        <div className="matrix-wide" tabIndex={0} role="region" aria-label="Boards and operations">
          <table>
            <thead>
              <tr>
                <th scope="col">Board</th>
                {operations.map((o) => (
                  <th key={o.key} scope="col" className={o.key === shown.key ? "is-picked" : ""}>
                    <button type="button" aria-pressed={o.key === shown.key} onClick={() => setPicked(o.key)}>
                      <span>
                        {words(o.title)}
                        {operations.some((other) => other !== o && other.title === o.title) && o.tool && `, ${o.tool}`}
                      </span>
                    </button>
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {boards.map((b) => (
                <tr key={b.id}>
                  <th scope="row">
                    <Link to={`/boards/${b.id}`}>{b.name}</Link>
                    <small>
                      {b.slab}
                      {b.for && `, for ${b.for}`}
                    </small>
                  </th>
                  {operations.map((o) => {
                    const cell = o.cells.find((c) => c.subject.id === b.id);
                    return (
                      <td key={o.key} className={o.key === shown.key ? "is-picked" : ""}>
                        {cell && <Mark cell={cell} at={words(o.title)} />}
                      </td>
                    );
                  })}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
        <OperationCard key={shown.key} run={run} operation={shown}>
          <Setup of={shown} name={setups[shown.key] ?? ""} onName={(name) => onSetup(shown.key, name)} />
        </OperationCard>
      </div>
    </div>
  );
}

/** Staggered tells when each of a batch is coated and wiped, so that none soaks too long. */
function Staggered({ of: b }: { of: NonNullable<Operation["batch"]> }) {
  return (
    <details className="staggered">
      <summary>
        {b.boards === 1 ? "One at a time" : `${b.boards} at a time`}, {showMinutes(b.takes)} from the first to the last
        wipe
      </summary>
      {b.mind && <p className="caution">{b.mind}.</p>}
      <table>
        <thead>
          <tr>
            <th scope="col">Board</th>
            <th scope="col">Coat it after</th>
            <th scope="col">Wipe it after</th>
          </tr>
        </thead>
        <tbody>
          {b.coated.map((coated, i) => (
            <tr key={i}>
              <th scope="row">{i + 1}</th>
              <td>{i === 0 ? "at once" : showMinutes(coated)}</td>
              <td>{showMinutes(b.wiped[i])}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="facts">Finish each by itself: the clock of its soak then runs for it alone.</p>
    </details>
  );
}

/** OperationCard does one operation on one board, some or all. */
function OperationCard({ run, operation: o, children }: { run: RunSheet; operation: Operation; children: ReactNode }) {
  const { words } = useWorkshop();
  const presses = usePresses();
  const [dropped, setDropped] = useState<string[]>([]);
  const [minutes, setMinutes] = useState<number | null>(null);
  const [pending, setPending] = useState(false);
  const able = o.cells.filter(open);
  const ticked = able.filter((c) => !dropped.includes(c.subject.id));
  const finished = o.cells.filter((c) => c.state === "done" || c.state === "drying");
  const nameOf = (c: Cell) => run.boards.find((b) => b.id === c.subject.id)?.name ?? "";
  const press = async (event: Event, cells: Cell[], took = 0) => {
    setPending(true);
    await presses.add({
      board: "",
      step: "",
      title: o.title,
      event,
      minutes: took,
      at: new Date(serverNow()).toISOString(),
      run: { id: run.id, steps: cells.map((c) => ({ board: c.subject.id, step: c.step })) },
    });
    setMinutes(null);
    setDropped([]);
    setPending(false);
  };
  const refused = presses.refused().filter((r) => r.press.run?.id === run.id);
  return (
    <section className="operation" aria-label={words(o.title)} data-operation={o.key}>
      <h2>{words(o.title)}</h2>
      <p className="facts">
        {o.tool && `${o.tool}. `}
        {o.open > 0 ? `${showMinutes(o.minutes)} for ${o.open}, set up once.` : "Done on all of them."}
        {o.saved > 0 && ` Saves ${showMinutes(o.saved)} against one by one.`}
      </p>
      {o.hint && <p>{words(o.hint)}.</p>}
      {o.batch && <Staggered of={o.batch} />}
      {children}
      <ul className="plain-list">
        {o.cells.map((c) => (
          <li key={c.subject.id + c.step}>
            {open(c) ? (
              <label>
                <input
                  type="checkbox"
                  checked={!dropped.includes(c.subject.id)}
                  onChange={() =>
                    setDropped((now) =>
                      now.includes(c.subject.id) ? now.filter((d) => d !== c.subject.id) : [...now, c.subject.id],
                    )
                  }
                />{" "}
                {nameOf(c)}
              </label>
            ) : (
              <span>{nameOf(c)}</span>
            )}
            <Mark cell={c} at={nameOf(c)} />
            {c.detail && <div className="facts">{words(c.detail)}</div>}
            {finished.includes(c) && (
              <button type="button" className="text-link" disabled={pending} onClick={() => press("undo", [c])}>
                Not finished after all
              </button>
            )}
          </li>
        ))}
      </ul>
      {able.length > 0 && (
        <div className="operation-do">
          <NumberField
            label="Minutes for all of them, 0 as reckoned"
            of="event.minutes"
            value={minutes ?? 0}
            onChange={setMinutes}
          />
          {ticked.some((c) => c.state === "ready") && (
            <Button
              variant="outline-primary"
              size="lg"
              disabled={pending}
              onClick={() =>
                press(
                  "start",
                  ticked.filter((c) => c.state === "ready"),
                )
              }
            >
              Start
            </Button>
          )}
          <Button
            size="lg"
            disabled={pending || ticked.length === 0}
            onClick={() => press("finish", ticked, minutes ?? 0)}
          >
            {ticked.length === 1 ? "Finish 1 board" : `Finish ${ticked.length} boards`}
          </Button>
        </div>
      )}
      {refused.length > 0 && (
        <p className="wrong" role="alert">
          {refused.map((r) => r.why).join(" · ")}
        </p>
      )}
    </section>
  );
}
