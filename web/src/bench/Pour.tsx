// The pour at the bench: dry run, scale, clocks, looks for leaks, pinholes. What is asked for next
// comes from the server, so that a page that was away comes back to the same place.
import { useCallback, useEffect, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import type { BenchBoard, MeterReading, Point, Pouring } from "../api/client";
import { showClock } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { Simulated, useInstruments, useReadings } from "../kit/instruments";
import { ahead, wantedOf } from "./ahead";
import { clock } from "./clock";
import { Amount, BoardPicture, TakeBack, useGrams, type AtStep } from "./parts";
import { useAlarm } from "./alarm";
import type { Note } from "./presses";

/** AtPour is what a step of a pour asks for, beside that it begins and ends. */
export function AtPour(props: AtStep) {
  const { board, step } = props;
  if (step.state === "to do") return null;
  if (step.key === "dam") return <DryRun {...props} />;
  if (/^pinholes-\d+$/.test(step.key)) return <Pinholes {...props} />;
  const of = board.pourings?.find((p) => p.step === step.key || p.watch === step.key);
  if (!of) return null;
  return of.step === step.key && ["weigh", "mix", "pour"].includes(of.phase) ? (
    <Weighing {...props} of={of} />
  ) : (
    <Watching {...props} of={of} />
  );
}

function DryRun({ board, step, note, pending }: AtStep) {
  const { words } = useWorkshop();
  const leaks = board.pourings?.[0]?.leaks ?? [];
  const leak = (place: Point) => note(step.key, { what: "leak", value: 0, place });
  return (
    <div className="pour-card">
      <p>Press where light or air comes through:</p>
      <BoardPicture board={board} marks={leaks} told="It leaks here" onPlace={(at) => !pending && void leak(at)} />
      <div className="pour-buttons">
        {board.voids?.map((v) => (
          <Button key={v.void} size="sm" variant="outline-primary" disabled={pending} onClick={() => leak(v.at)}>
            It leaks at {v.number}
          </Button>
        ))}
      </div>
      {leaks.length > 0 && (
        <p className="facts" role="status">
          {leaks.length === 1 ? "One place leaks" : `${leaks.length} places leak`}: seal them, and look again.{" "}
          <TakeBack disabled={pending} onClick={() => note(step.key, { what: "back", value: 0 })} />
        </p>
      )}
      <p className="facts">{words("A tray stands beneath, whatever the dam.")}</p>
    </div>
  );
}

/** Countdown is a clock that runs out. */
function Countdown({ what, until, now, over }: { what: string; until: string; now: number; over: ReactNode }) {
  const left = Date.parse(until) - now;
  return (
    <div className={`open-time ${left < 60000 ? "is-short" : ""}`} role="timer">
      {left > 0 ? (
        <>
          {what} <strong>{clock(left)}</strong>
        </>
      ) : (
        <strong>{over}</strong>
      )}
    </div>
  );
}

function Weighing({ board, step, now, note, pending, kept, of }: AtStep & { of: Pouring }) {
  const grams = useGrams();
  const waiting = kept.filter((p) => p.step === step.key && p.note);
  const tell = (what: Note["what"], v = 0) => note(step.key, { what, value: v });
  const { ask } = of;
  return (
    <div className="pour-card" data-phase={of.phase}>
      <p className="pour-head">
        {of.batches > 1 && (
          <>
            Batch {of.batch} of {of.batches}.{" "}
          </>
        )}
        For one: {grams(of.wanted.resinG)} resin, {grams(of.wanted.hardenerG)} hardener
        {of.wanted.pigmentG > 0 && <>, {grams(of.wanted.pigmentG)} pigment</>}.
      </p>
      {of.weighed.length > 0 && (
        <ul className="plain-list facts weighed">
          {of.weighed.map((w, i) => (
            <li key={i}>
              Batch {i + 1}: {grams(w.resinG)} resin, {grams(w.hardenerG)} hardener
              {w.pigmentG > 0 && <>, {grams(w.pigmentG)} pigment</>}
              {w.ratio > 0 && <>: 100 to {w.ratio.toFixed(1)}</>}
            </li>
          ))}
        </ul>
      )}
      {waiting.length > 0 ? (
        <Ahead of={of} kept={waiting} pending={pending} note={note} />
      ) : (
        <>
          {of.phase === "weigh" && ask && (
            <Scale
              key={`${of.batch}${ask.what}${ask.grams}`}
              board={board}
              of={of}
              ask={ask}
              note={note}
              pending={pending}
            />
          )}
          {of.phase === "weigh" && ask?.short && (
            <Button variant="outline-primary" disabled={pending} onClick={() => tell("enough")}>
              It is enough
            </Button>
          )}
          {of.phase === "mix" && (
            <Button size="lg" disabled={pending} onClick={() => tell("mix")}>
              Start mixing
            </Button>
          )}
          {of.phase === "pour" && (
            <>
              {of.mixUntil && (
                <Countdown
                  what="Mix for"
                  until={of.mixUntil}
                  now={now}
                  over="Mixed: into the second cup, once more, and pour."
                />
              )}
              {of.workUntil && (
                <Countdown
                  what="Worked within"
                  until={of.workUntil}
                  now={now}
                  over="Its working time is over: what thickens in the cup is set aside in the open, it gets hot."
                />
              )}
              <Button size="lg" disabled={pending} onClick={() => tell("poured")}>
                It is poured in
              </Button>
            </>
          )}
        </>
      )}
      {of.last && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => tell("back")} />
        </p>
      )}
    </div>
  );
}

/** Ahead goes on without the server, by what the plan of a batch asks for. */
function Ahead({ of, kept, pending, note }: Pick<AtStep, "kept" | "pending" | "note"> & { of: Pouring }) {
  const what = ahead(of, kept);
  return (
    <>
      <p className="wrong" role="status">
        The server is away: go on by these figures; what you write down is kept, and reckoned when it is back.
      </p>
      {what === "mix" || what === "poured" ? (
        <Button size="lg" disabled={pending} onClick={() => note(of.step, { what, value: 0 })}>
          {what === "mix" ? "Start mixing" : "It is poured in"}
        </Button>
      ) : (
        <ByHand key={kept.length} of={of} what={what} grams={wantedOf(of, what)} pending={pending} note={note} />
      )}
    </>
  );
}

interface ByHandProps extends Pick<AtStep, "pending" | "note"> {
  of: Pouring;
  what: Note["what"];
  grams: number;
}

/** ByHand writes down what was poured of a part, as it was weighed on any scale. */
function ByHand({ of, what, grams, pending, note }: ByHandProps) {
  return (
    <Amount
      label={`${what[0].toUpperCase()}${what.slice(1)} poured`}
      unit="g"
      start={grams}
      write="Write it down"
      pending={pending}
      onWrite={(value) => note(of.step, { what, value })}
    />
  );
}

/** silent is after how many seconds a scale that sends nothing is told to be silent. */
const silent = 10;

/** Scale shows what the scale shows, against what is asked for; by hand is always possible. */
function Scale({
  board,
  of,
  ask,
  note,
  pending,
}: {
  board: BenchBoard;
  of: Pouring;
  ask: NonNullable<Pouring["ask"]>;
  note: AtStep["note"];
  pending: boolean;
}) {
  const grams = useGrams();
  const scales = useInstruments("scale") ?? [];
  return (
    <>
      <p className="pour-ask">
        {ask.mends && <>There is too much of the other part. </>}
        {ask.mends ? "Add" : "Pour"} <strong>{grams(ask.grams)}</strong> of {ask.what}, give or take{" "}
        {grams(ask.tolerance)}.
      </p>
      {scales.length > 0 && <Live board={board} of={of} ask={ask} note={note} pending={pending} scales={scales} />}
      <ByHand of={of} what={ask.what} grams={ask.grams} pending={pending} note={note} />
    </>
  );
}

function Live({
  board,
  of,
  ask,
  note,
  pending,
  scales,
}: {
  board: BenchBoard;
  of: Pouring;
  ask: NonNullable<Pouring["ask"]>;
  note: AtStep["note"];
  pending: boolean;
  scales: { id: string; name: string; simulated: boolean }[];
}) {
  const grams = useGrams();
  const [last, setLast] = useState<{ reading: MeterReading; at: number } | null>(null);
  const [clockNow, setClock] = useState(0);
  const take = useCallback((r: MeterReading) => {
    if (r.kind !== "scale") return;
    setLast({ reading: r, at: performance.now() });
    setClock(performance.now());
  }, []);
  const listening = useReadings(take);
  useEffect(() => {
    const timer = window.setInterval(() => setClock(performance.now()), 1000);
    return () => window.clearInterval(timer);
  }, []);
  const shown = last?.reading.grams;
  const quiet = last !== null && clockNow - last.at > silent * 1000;
  const net = shown === undefined ? 0 : shown - of.tare;
  const good = shown !== undefined && Math.abs(net - ask.grams) <= ask.tolerance;
  const ready = last?.reading.settled === true && !quiet;
  return (
    <div className="pour-scale" data-listening={listening}>
      <div className={`scale-shows ${good ? "is-good" : ""}`} role="status">
        {shown === undefined ? "–" : grams(net)}
      </div>
      <div className="facts">
        {shown === undefined
          ? listening
            ? "Waiting for the scale."
            : "Not connected to the scale."
          : quiet
            ? `The scale has sent nothing for ${silent} seconds: what it shows may be old. Weigh by hand.`
            : net < 0
              ? "Less than nothing: is the cup off?"
              : last?.reading.settled
                ? `${last.reading.name} has come to rest.`
                : "It is not at rest yet."}
      </div>
      <div className="pour-buttons">
        <Simulated
          of={scales}
          at={{ board: board.course.subject.id, step: of.step }}
          listening={listening}
          say={(name) => `Weigh with ${name}`}
        />
        <Button
          size="sm"
          variant="outline-primary"
          disabled={pending || !ready}
          onClick={() => note(of.step, { what: "tare", value: 0, shown })}
        >
          The cup is empty: set to nought
        </Button>
        <Button
          disabled={pending || !ready || net <= 0}
          onClick={() => note(of.step, { what: ask.what, value: 0, shown })}
        >
          Take {shown === undefined ? "it" : grams(net)}
        </Button>
      </div>
    </div>
  );
}

interface WatchProps {
  of: Pouring;
  pending: boolean;
  tell: (what: Note["what"], value?: number) => Promise<void>;
}

function Watching({ now, note, pending, of, step }: AtStep & { of: Pouring }) {
  const { value } = useWorkshop();
  const tell: WatchProps["tell"] = (what, v = 0) => note(of.step, { what, value: v });
  if (of.phase === "weigh" || of.phase === "mix" || of.phase === "pour") return null;
  return (
    <div className="pour-card" data-phase={of.phase}>
      {of.phase === "watch" && (
        <>
          {of.workUntil && (
            <Countdown
              what="Can be worked for"
              until={of.workUntil}
              now={now}
              over="It can be worked no more: leave it alone."
            />
          )}
          <Flame of={of} pending={pending} tell={tell} />
          {of.topUps < of.topUpsOf && <TopUp of={of} pending={pending} tell={tell} />}
        </>
      )}
      <Looks of={of} pending={pending} tell={tell} now={now} />
      {of.phase === "over" && (
        <p className="facts" role="status">
          Of {value(of.mixed, "ml")} mixed {value(of.used, "ml")} went in and {value(of.lost, "ml")} leaked away: the
          next mix goes by it.
        </p>
      )}
      {of.last && step.state !== "done" && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => tell("back")} />
        </p>
      )}
    </div>
  );
}

function Flame({ of, pending, tell }: WatchProps) {
  const over = of.heat >= of.heatOf;
  return (
    <div className="pour-buttons">
      <Button variant="outline-primary" disabled={pending || over} onClick={() => tell("heat")}>
        Flame pass {Math.min(of.heat + 1, of.heatOf)} of {of.heatOf}
      </Button>
      <span className="facts">
        {over ? "It bears no more heat." : "A forearm off, moving; never with spirits or accelerator about."}
      </span>
    </div>
  );
}

function TopUp({ of, pending, tell }: WatchProps) {
  const grams = useGrams();
  return (
    <Amount
      label="Topped up with"
      unit="ml"
      start={of.topUpMl}
      write={`Top-up ${of.topUps + 1} of ${of.topUpsOf}`}
      quiet
      pending={pending}
      onWrite={(ml) => tell("top-up", ml)}
    >
      <span className="facts">
        {grams(of.topUp.resinG)} resin, {grams(of.topUp.hardenerG)} hardener, mixed anew
      </span>
    </Amount>
  );
}

function Looks({ of, pending, tell, now }: WatchProps & { now: number }) {
  const { value, shop } = useWorkshop();
  const next = of.looks.find((l) => !l.done && !l.away);
  const due = next !== undefined && Date.parse(next.at) <= now;
  useAlarm(due);
  return (
    <>
      <ul className="plain-list looks">
        {of.looks.map((l) => (
          <li key={l.at} className={l.done ? "is-done" : l === next && due ? "is-due" : ""}>
            {showClock(l.at, shop.timeZone)}{" "}
            {l.done
              ? `looked, ${value(l.lost, "ml")} lost`
              : l.away
                ? "after the session: a glance if you can"
                : "look for leaks"}
          </li>
        ))}
      </ul>
      {due && (
        <strong className="look-due" role="alert">
          Look now: does it leak, has it sunk?
        </strong>
      )}
      {next && (
        <Amount
          label="Lost since the last look"
          unit="ml"
          start={0}
          write="Looked"
          quiet={!due}
          pending={pending}
          onWrite={(ml) => tell("look", ml)}
        />
      )}
      {!next && of.phase !== "over" && <Account of={of} pending={pending} tell={tell} />}
    </>
  );
}

/** Account is what went in, for what it teaches. */
function Account({ of, pending, tell }: WatchProps) {
  const { value } = useWorkshop();
  return (
    <Amount
      label="Went in and stayed"
      unit="ml"
      start={of.stayed}
      write="Write it down"
      pending={pending}
      onWrite={(ml) => tell("used", ml)}
    >
      <span className="facts">
        Mixed {value(of.mixed, "ml")}, lost {value(of.lost, "ml")}; the rest stayed in the cups.
      </span>
    </Amount>
  );
}

function Pinholes({ step, note, pending }: AtStep) {
  const tell = (holes: number) => note(step.key, { what: "holes", value: holes });
  return (
    <div className="pour-card">
      <Amount
        label="Pinholes under raking light, both faces"
        start={3}
        write="So many"
        quiet
        pending={pending}
        onWrite={tell}
      >
        <Button disabled={pending} onClick={() => tell(0)}>
          None left
        </Button>
      </Amount>
    </div>
  );
}
