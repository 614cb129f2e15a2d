// The bench: what to do now, what is curing or drying and until when, what is
// late. Made for a thumb as well as for a mouse.
import { useQuery } from "@tanstack/react-query";
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { serverNow } from "../api/asking";
import { api, unwrap, type BenchBoard, type Evening, type Dated, type Subject, type Turn } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Silhouette, silhouetteOf } from "../kit/drawing";
import { NumberField } from "../kit/fields";
import { showClock, showMinutes } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { PanelPicture } from "../timber/panel/PanelPicture";
import { Pressing } from "../timber/panel/Pressing";
import { useAlarm } from "./alarm";
import { AtCoat, AtSander } from "./Finishing";
import { AtPour } from "./Pour";
import { clock } from "./clock";
import type { AtStep } from "./parts";
import { spentOf, withPresses, type Event, type Note, type Press } from "./presses";
import { usePresses } from "./kept";
import { SetAs } from "./SetAs";
import { useSheets } from "./sheets";
import { Takes } from "./Takes";

const Turns = lazy(() => import("./Turns").then((m) => ({ default: m.Turns })));
const NoteForm = lazy(() => import("./NoteForm"));

/** useNow ticks, by the server's clock. */
function useNow(): number {
  const [now, setNow] = useState(serverNow);
  useEffect(() => {
    const timer = window.setInterval(() => setNow(serverNow()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  return now;
}

interface Item {
  board: BenchBoard;
  step: Dated;
  /** The step before it, which may be taken back. */
  before?: Dated;
  /** What comes after a wait. */
  after?: Dated;
  /** It waits for food, not for more work. */
  resting?: boolean;
}

/** placeOf is where a board, or a panel, has its own page at a stage. */
const placeOf = ({ course, glued, cast }: BenchBoard, stage: string): string =>
  cast || glued
    ? `/timber/${course.subject.id}${glued ? "?part=clamps" : ""}`
    : `/boards/${course.subject.id}?stage=${stage}`;

/** isPanel tells what is made of other pieces, glued up or cast, from a board. */
const isPanel = (b: BenchBoard): boolean => Boolean(b.glued ?? b.cast);

/** later tells whether a moment is still to come. */
const later = (at: string | undefined, now: number): boolean => at !== undefined && new Date(at).getTime() > now;

/** restingLongest is the step after which the board rests longest. */
const restingLongest = (steps: Dated[], now: number): Dated | undefined =>
  steps
    .filter((s) => s.state === "done" && later(s.restUntil, now))
    .sort((a, b) => a.restUntil!.localeCompare(b.restUntil!))
    .at(-1);

/** standOf tells where the steps of a board stand: what is next, what holds it, and what rests. */
function standOf(steps: Dated[], now: number) {
  const at = steps.findIndex((s) => s.state !== "done");
  const before = at < 0 ? steps.at(-1) : steps[at - 1];
  const step = at < 0 ? undefined : steps[at];
  return {
    step,
    before,
    held: before?.state === "done" && before.wait > 0 && later(before.waitUntil, now) ? before : undefined,
    resting: restingLongest(steps, now),
    dries: step?.minutes === 0 && later(step.waitUntil, now), // the wood itself
  };
}

/** panelOf is the panel that a step waits for. */
const panelOf = (step: Dated, boards: BenchBoard[]): BenchBoard | undefined =>
  boards.find((b) => isPanel(b) && (step.after ?? []).some((key) => key.startsWith(`panel:${b.course.subject.id}/`)));

/** sorted tells what is in hand, what comes next, what waits, and what is ready. */
function sorted(boards: BenchBoard[], now: number, turns: Turn[]) {
  const turnOf = ({ board, step }: Item): number => {
    const id = board.course.subject.id;
    const at = turns.findIndex((t) => t.steps.some((s) => s.subject.id === id && s.step === step.key));
    return at < 0 ? turns.length : at;
  };
  const inHand: Item[] = [];
  const next: Item[] = [];
  const waiting: Item[] = [];
  const onPanel: { board: BenchBoard; panel: BenchBoard }[] = [];
  const ready: BenchBoard[] = [];
  for (const board of boards) {
    const { step, before, held, resting, dries } = standOf(board.course.steps, now);
    const panel = step?.state === "to do" ? panelOf(step, boards) : undefined;
    if (panel) {
      onPanel.push({ board, panel });
      continue;
    }
    if (step && dries) waiting.push({ board, step });
    else if (step && (step.state === "running" || step.state === "paused")) inHand.push({ board, step, before });
    else if (held) waiting.push({ board, step: held, after: step });
    else if (step) next.push({ board, step, before });
    if (resting && !step) waiting.push({ board, step: resting, resting: true });
    if (!step && !held && !resting) ready.push(board);
  }
  next.sort(
    (a, b) =>
      Number(calledFor(b, now)) - Number(calledFor(a, now)) ||
      turnOf(a) - turnOf(b) ||
      (a.step.latestAt ?? "9").localeCompare(b.step.latestAt ?? "9"),
  );
  return { inHand, next, waiting, onPanel, ready };
}

/** EveningEnd tells when the session is, and when clearing up begins. */
function EveningEnd({ of: e }: { of: Evening }) {
  const { time, shop } = useWorkshop();
  const clock = (at: string) => showClock(at, shop.timeZone);
  return (
    <p className="facts evening-end">
      At the bench {time(e.from)} to {clock(e.to)}. Clear up from <strong>{clock(e.clear)}</strong>,{" "}
      {showMinutes(e.minutes)}
      {e.mess && ", with resin or carving to clear away"}.
    </p>
  );
}

export default function BenchPlace() {
  const { time, shop } = useWorkshop();
  const presses = usePresses();
  const bench = useQuery({
    queryKey: ["bench"],
    queryFn: () => unwrap(api.GET("/api/bench")),
    refetchInterval: 60_000,
  });
  const arrived = useArrived(bench);
  const now = useNow();
  const kept = useSyncExternalStore(presses.subscribe, presses.waiting);
  useSyncExternalStore(presses.subscribe, presses.changes);
  useSheets(arrived?.boards);
  if (!arrived) return <Away of={bench} />;
  const boards = withPresses(arrived.boards, presses.untold(arrived.line), new Date(arrived.now).getTime());
  const { inHand, next, waiting, onPanel, ready } = sorted(boards, now, arrived.turns);
  const late = boards.filter((b) => b.course.late || b.course.unplaced);
  return (
    <div className="bench">
      <header className="page-head">
        <h1>Bench</h1>
        <span className="facts">{time(new Date(now).toISOString())}</span>
      </header>
      {arrived.evening && boards.length > 0 && <EveningEnd of={arrived.evening} />}
      <Waiting presses={kept} />
      {!shop.starter && (
        <p className="first-tools">
          Every step is planned with what you own. <Link to="/shop?part=tools">Which tools do you own?</Link>
        </p>
      )}
      {boards.length === 0 && (
        <p className="empty">
          Nothing is in work. <Link to="/timber">Choose a piece of wood</Link> and lay a board on it.
        </p>
      )}
      {late.length > 0 && <Late boards={late} />}
      {inHand.length > 0 && (
        <section aria-labelledby="in-hand">
          <h2 id="in-hand">In hand</h2>
          {inHand.map((i) => (
            <StepCard key={i.board.course.subject.id} item={i} now={now} read={new Date(arrived.now).getTime()} />
          ))}
        </section>
      )}
      {ready.length > 0 && (
        <section aria-labelledby="ready">
          <h2 id="ready">Ready to give</h2>
          {ready.map((b) => (
            <Link key={b.course.subject.id} className="bench-card ready-card" to={placeOf(b, "give")}>
              <Thumb board={b} />
              <span>
                <strong>{b.course.name}</strong> is done and has rested.
              </span>
            </Link>
          ))}
        </section>
      )}
      {waiting.length > 0 && (
        <section aria-labelledby="waiting">
          <h2 id="waiting">Curing and drying</h2>
          {waiting.map((i) => (
            <Wait key={i.board.course.subject.id + i.step.key} item={i} now={now} />
          ))}
        </section>
      )}
      {onPanel.length > 0 && (
        <section aria-labelledby="on-panel">
          <h2 id="on-panel">Waiting for a panel</h2>
          {onPanel.map(({ board, panel }) => (
            <div key={board.course.subject.id} className="bench-card wait">
              <Thumb board={board} />
              <div className="flex-grow-1">
                <Link to={placeOf(board, "glue")}>{board.course.name}</Link>
                <div className="facts">
                  is cut from <Link to={placeOf(panel, "glue")}>{panel.course.name}</Link>, which bears a machine{" "}
                  {panel.course.finish ? `from ${time(panel.course.finish)}` : "when it is glued"}
                </div>
              </div>
            </div>
          ))}
        </section>
      )}
      {arrived.turns.length > 0 && (
        <Suspense>
          <Turns turns={arrived.turns} ahead={arrived.ahead} />
        </Suspense>
      )}
      {next.length > 0 && (
        <section aria-labelledby="next">
          <h2 id="next">Next</h2>
          {next.map((i, n) => (
            <StepCard
              key={i.board.course.subject.id}
              item={i}
              now={now}
              read={new Date(arrived.now).getTime()}
              folded={n > 0}
            />
          ))}
        </section>
      )}
    </div>
  );
}

function Wait({ item: { board, step, after, resting = false }, now }: { item: Item; now: number }) {
  const { time, words } = useWorkshop();
  const { record, note, kept, pending, error } = useRecord(board);
  const until = resting ? step.restUntil! : step.waitUntil!;
  const left = new Date(until).getTime() - now;
  const whole = (resting ? step.rest : step.wait) * 60000;
  return (
    <div className="bench-card wait" data-wait={step.key}>
      <Thumb board={board} />
      <div className="flex-grow-1">
        <Link to={placeOf(board, step.stage)}>{board.course.name}</Link>
        <div>
          {words(step.title)}: {resting ? "rest before food" : words(step.waitFor)}
        </div>
        <progress value={Math.min(1, Math.max(0, 1 - left / whole))} aria-label="How much of the wait is over" />
        <div className="facts">until {time(until)}</div>
        {!resting && <AtSteps board={board} step={step} now={now} note={note} pending={pending} kept={kept} />}
        {after && !resting && (
          <div className="facts">
            Then: {words(after.title)}.{" "}
            <button type="button" className="text-link" disabled={pending} onClick={() => record(after, "start")}>
              Start it early
            </button>
          </div>
        )}
        {!resting && step.state === "done" && (
          <div className="facts">
            <button type="button" className="text-link" disabled={pending} onClick={() => record(step, "undo")}>
              Not finished after all
            </button>
          </div>
        )}
        <WentWrong board={board} step={step.key} />
        {error}
      </div>
      <div className="timer">{left > 48 * 3600e3 ? showMinutes(left / 60000) : clock(left)}</div>
    </div>
  );
}

function Thumb({ board: b }: { board: BenchBoard }) {
  if (b.glued)
    return (
      <div className="thumb">
        <PanelPicture parts={b.glued.parts} length={b.glued.length} width={b.glued.width} />
      </div>
    );
  return (
    <div className="thumb">
      <Silhouette {...silhouetteOf(b)} label="" seed={b.course.subject.id} />
    </div>
  );
}

/** AtSteps is what a step asks for beside that it begins and ends, whatever it is. */
function AtSteps(props: AtStep) {
  return (
    <>
      <AtPour {...props} />
      <AtSander {...props} />
      <AtCoat {...props} />
    </>
  );
}

/** calledFor tells whether somebody must come to a step now: the soak before it is over, and does not wait. */
const calledFor = ({ step, before }: Item, now: number): boolean =>
  step.state === "to do" &&
  before?.state === "done" &&
  Boolean(before.attended) &&
  before.waitUntil !== undefined &&
  !later(before.waitUntil, now);

/** Called rings, and tells, when somebody must come to a step. */
function Called({ item, now }: { item: Item; now: number }) {
  const { words } = useWorkshop();
  const called = calledFor(item, now);
  useAlarm(called);
  if (!called) return null;
  return (
    <strong className="look-due" role="alert">
      Now: {words(item.before!.waitFor)} is over.
    </strong>
  );
}

/** useRecord writes events of a board's steps to the log, with the time at which they are pressed. */
function useRecord(board: BenchBoard) {
  const { words } = useWorkshop();
  const presses = usePresses();
  const [pending, setPending] = useState(false);
  const refused = useSyncExternalStore(presses.subscribe, presses.refused);
  const waiting = useSyncExternalStore(presses.subscribe, presses.waiting);
  const id = board.course.subject.id;
  const mine = refused.filter((r) => r.press.board === id);
  const add = async (press: Pick<Press, "step" | "title" | "event" | "minutes" | "note" | "ago">) => {
    setPending(true);
    await presses.add({ board: id, panel: isPanel(board), at: new Date(serverNow()).toISOString(), ...press });
    setPending(false);
  };
  return {
    record: (step: { key: string; title: string }, event: Event, minutes = 0, ago = 0) =>
      add({ step: step.key, title: step.title, event, minutes, ...(ago > 0 && { ago }) }),
    note: (step: string, said: Note) => {
      const title = board.course.steps.find((s) => s.key === step)?.title ?? "";
      return add({ step, title, event: "note", minutes: 0, note: said });
    },
    kept: waiting.filter((p) => p.board === id),
    pending,
    error: mine.length > 0 && (
      <p className="wrong" role="alert">
        {mine.map((r) => `${words(r.press.title)}: ${r.why}`).join(" · ")}
      </p>
    ),
  };
}

const done = { start: "begun", pause: "paused", finish: "finished", undo: "taken back", note: "written down" };

/** Waiting is what the server does not have yet. */
function Waiting({ presses }: { presses: readonly Press[] }) {
  const { time, words } = useWorkshop();
  if (presses.length === 0) return null;
  return (
    <section className="kept" aria-label="Kept on this device" role="status">
      <p>What you press is kept on this device with its time, and sent when the server is back:</p>
      <ul>
        {presses.map((p) => (
          <li key={p.name}>
            {words(p.title)}
            {p.note && (
              <>
                : {p.note.words ?? p.note.what} {p.note.shown ?? (p.note.value || "")}
              </>
            )}
            , {done[p.event]} {time(p.at)}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Cautions({ of, folded }: { of: BenchBoard["cautions"][string]; folded: boolean }) {
  const { words } = useWorkshop();
  const all = of.map((c) => (
    <p key={c.title} className="caution">
      <strong>{c.title}.</strong> {words(c.text)}
    </p>
  ));
  if (!folded || of.length === 0) return <>{all}</>;
  return (
    <details className="cautions">
      <summary>Take care: {of.map((c) => c.title).join(", ")}</summary>
      {all}
    </details>
  );
}

function StepCard({
  item: { board, step, before },
  now,
  read,
  folded = false,
}: {
  item: Item;
  now: number;
  read: number;
  folded?: boolean;
}) {
  const { time, words } = useWorkshop();
  const { record, note, kept, pending, error } = useRecord(board);
  const [finishing, setFinishing] = useState(false);
  const sofar = spentOf(step, read, now);
  const [minutes, setMinutes] = useState<number | null>(null);
  const took = minutes ?? Math.max(0.1, Number((sofar || step.minutes).toFixed(1)));
  const running = step.state === "running";
  const begun = running || step.state === "paused";
  const [ago, setAgo] = useState(0);
  const finish = async () => {
    await record(step, "finish", took, ago);
    setFinishing(false);
    setMinutes(null);
    setAgo(0);
  };
  return (
    <div className={`bench-card ${step.late ? "late" : ""}`} data-card={step.key} data-state={step.state}>
      <Thumb board={board} />
      <div className="flex-grow-1">
        <Link to={placeOf(board, step.stage)}>{board.course.name}</Link>
        <div className="step-title">{words(step.title)}</div>
        {step.detail && <div className="facts">{words(step.detail)}</div>}
        <div className="facts">
          about {showMinutes(step.minutes)}
          {step.latestAt && <>, start by {time(step.latestAt)}</>}
          {step.full && <>, no place free sooner: {words(step.full)}</>}
        </div>
        <SetAs of={board.setups?.[step.key]} />
        <Takes of={board.takes} step={step} />
        <Spreading board={board} step={step} now={now} folded={folded} />
        <Called item={{ board, step, before }} now={now} />
        <AtSteps board={board} step={step} now={now} note={note} pending={pending} kept={kept} />
        <Cautions of={board.cautions[step.key] ?? []} folded={folded} />
        <Hints of={board.hints} />
        <Noting subject={board.course.subject} step={step.key} pending={pending} onNote={(n) => note(step.key, n)} />
        <WentWrong board={board} step={step.key} />
        {begun ? (
          <button type="button" className="text-link facts" disabled={pending} onClick={() => record(step, "undo")}>
            Not begun after all
          </button>
        ) : (
          before && <DoneBefore step={before} pending={pending} onBack={() => record(before, "undo")} />
        )}
        {error}
      </div>
      <div className="bench-do">
        {begun && <div className="timer">{clock(sofar * 60000)}</div>}
        {finishing ? (
          <form
            onSubmit={(e) => {
              e.preventDefault();
              void finish();
            }}
          >
            <NumberField label="Minutes it took" of="event.minutes" value={took} least={0.1} onChange={setMinutes} />
            <NumberField label="Finished how many minutes ago" of="event.ago" value={ago} step={10} onChange={setAgo} />
            <Button type="submit" size="lg" disabled={pending}>
              Write it down
            </Button>
            <Button size="sm" variant="link" onClick={() => setFinishing(false)}>
              Not yet
            </Button>
          </form>
        ) : (
          <>
            {running ? (
              <Button size="lg" variant="outline-primary" disabled={pending} onClick={() => record(step, "pause")}>
                Pause
              </Button>
            ) : (
              <Button
                size="lg"
                variant={step.state === "paused" || !folded ? "primary" : "outline-primary"}
                disabled={pending}
                onClick={() => record(step, "start")}
              >
                {step.state === "paused" ? "Go on" : "Start"}
              </Button>
            )}
            <Button
              size="lg"
              variant={running ? "primary" : "outline-primary"}
              disabled={pending}
              onClick={() => setFinishing(true)}
            >
              Finish
            </Button>
          </>
        )}
      </div>
    </div>
  );
}

/** Hints tell what has gone wrong at such a step before, and what keeps it from happening. */
function Hints({ of: hints }: { of: BenchBoard["hints"] }) {
  const { words } = useWorkshop();
  if (!hints || hints.length === 0) return null;
  return (
    <ul className="plain-list step-hints">
      {hints.map((h) => (
        <li key={h.name} className="facts">
          <strong>{h.name}</strong> {h.times === 1 ? "once" : `${h.times} times`} at this step. {words(h.before)}
        </li>
      ))}
    </ul>
  );
}

/** WentWrong leads to the ways out: of a board, or of each that lies on a panel or a river. */
function WentWrong({ board, step }: { board: BenchBoard; step: string }) {
  const { id, kind } = board.course.subject;
  if (kind !== "board")
    return (
      <div>
        {board.holds?.map((b) => (
          <Link key={b.id} className="went-wrong" to={`/boards/${b.id}/rescue`}>
            Something went wrong, for {b.name}
          </Link>
        ))}
      </div>
    );
  return (
    <div>
      <Link className={`went-wrong ${board.mishap ? "now" : ""}`} to={`/boards/${id}/rescue?step=${step}`}>
        {board.mishap ? `${board.mishap}: look at the ways out` : "Something went wrong"}
      </Link>
    </div>
  );
}

/** Noting lets something be written down at a step. */
function Noting(props: { subject: Subject; step: string; pending: boolean; onNote: (note: Note) => Promise<void> }) {
  const [open, setOpen] = useState(false);
  if (!open)
    return (
      <div>
        <button type="button" className="text-link facts" onClick={() => setOpen(true)}>
          Write something down
        </button>
      </div>
    );
  return (
    <Suspense>
      <NoteForm {...props} onClose={() => setOpen(false)} />
    </Suspense>
  );
}

/** DoneBefore is the step before, which may be taken back. */
function DoneBefore({ step, pending, onBack }: { step: Dated; pending: boolean; onBack: () => void }) {
  const { words } = useWorkshop();
  return (
    <div className="facts">
      Done before: {words(step.title)}, {showMinutes(step.spent)}
      {(step.finished ?? 0) > 1 && <>, finished {step.finished} times over: the latest counts</>}.
      <button type="button" className="text-link" disabled={pending} onClick={onBack}>
        Take it back
      </button>
    </div>
  );
}

/** Spreading counts the open time down from the first glue, with the clamps as they go. */
function Spreading({ board, step, now, folded }: { board: BenchBoard; step: Dated; now: number; folded: boolean }) {
  const k = board.glued?.pressed.find((p) => p.key === step.key);
  if (!k || !board.glued || folded) return null;
  const begun = step.state === "running" && step.startedAt ? new Date(step.startedAt).getTime() : now;
  const left = k.open * 60000 - (now - begun);
  return (
    <div className="spreading">
      <div className={`open-time ${left < 60000 ? "is-short" : ""}`} role="timer">
        {left > 0 ? (
          <>
            Open for <strong>{clock(left)}</strong>
          </>
        ) : (
          <strong>The open time is over: close it now, or scrape the glue off and begin anew.</strong>
        )}
      </div>
      <Pressing pressed={k} parts={board.glued} />
    </div>
  );
}

/** Late are the boards that will not be done in time. */
function Late({ boards: late }: { boards: BenchBoard[] }) {
  return (
    <section className="late-list" aria-label="Late">
      {late.map((b) => (
        <p key={b.course.subject.id}>
          <strong>{b.course.name}</strong>{" "}
          {b.course.unplaced ? (
            <>
              does not fit into your hours at the bench. <Link to="/shop">Add a session</Link>
            </>
          ) : (
            <>
              is too late by {showMinutes(-b.course.slack)}. <Link to={placeOf(b, "give")}>See what would help</Link>
            </>
          )}
        </p>
      ))}
    </section>
  );
}
