// The plan: all boards and panels with their work and waits on the calendar. A step is dragged to another day, or
// locked to it, and the others give way.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useRef, useState, type KeyboardEvent } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type Dated, type WorkPlan } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { midnights, showMinutes } from "../kit/length";
import { Wrong } from "../kit/parts";
import { useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

const day = 86_400_000;
const row = 20;
const head = 26;
const perDay = 26;

type Course = WorkPlan["courses"][number];

interface Picked {
  course: Course;
  step: Dated;
}

const at = (moment: string) => new Date(moment).getTime();
const nameOfStep = ({ course, step }: Picked) => `${course.subject.kind}:${course.subject.id}/${step.key}`;

/** dayOf is the day of a moment in the workshop's time zone, as a date field holds it. */
const dayOf = (moment: number, zone: string): string =>
  new Intl.DateTimeFormat("sv-SE", { timeZone: zone, year: "numeric", month: "2-digit", day: "2-digit" }).format(
    moment,
  );

export function Plan() {
  const client = useQueryClient();
  const plan = useQuery({ queryKey: ["plan"], queryFn: () => unwrap(api.GET("/api/plan")), refetchInterval: 60_000 });
  const arrived = useArrived(plan);
  const [picked, setPicked] = useState<string>();
  const taken = (next: WorkPlan) => {
    client.setQueryData(["plan"], next);
    void client.invalidateQueries({ queryKey: ["plan", "helps"] });
    void client.invalidateQueries({ queryKey: ["bench"] });
  };
  const improve = useMutation({
    mutationFn: () => unwrap(api.POST("/api/plan/improve")),
    onSuccess: taken,
  });
  const pin = useMutation({
    mutationFn: (body: { step: string; day: string }) => unwrap(api.POST("/api/plan/pins", { body })),
    onSuccess: taken,
  });
  const { mutate: look, isIdle } = improve;
  const looked = arrived?.looked ?? true;
  useEffect(() => {
    if (!looked && isIdle) look(); // with what has come since
  }, [looked, isIdle, look]);
  if (!arrived) return <Away of={plan} />;
  const courses = arrived.courses.filter((c) => !c.done || c.finish);
  const all = courses.flatMap((course) => course.steps.map((step) => ({ course, step })));
  const shown = all.find((p) => nameOfStep(p) === picked);
  return (
    <div className="plan-page">
      <Told of={arrived} />
      <p>
        <Button size="sm" variant="outline-primary" disabled={improve.isPending} onClick={() => improve.mutate()}>
          {improve.isPending ? "Looking" : "Look for a better order"}
        </Button>
        {arrived.looked && <span className="facts"> In the best order that was found for all that is to be done.</span>}
        <Wrong error={improve.error ?? pin.error} />
      </p>
      <Picture
        of={arrived}
        courses={courses}
        picked={picked}
        onPick={(p) => setPicked(nameOfStep(p))}
        onMove={(p, to) => pin.mutate({ step: nameOfStep(p), day: to })}
      />
      <Helps />
      <Feed />
      {shown && <StepCard of={shown} onPin={(to) => pin.mutate({ step: nameOfStep(shown), day: to })} />}
    </div>
  );
}

/** Helps says what would bring the work nearer to its days, and by how much. */
function Helps() {
  const { words } = useWorkshop();
  const helps = useQuery({ queryKey: ["plan", "helps"], queryFn: () => unwrap(api.GET("/api/plan/helps")) });
  const p = helps.data;
  if (helps.isPending) return <p className="facts">Trying what would help.</p>;
  if (!p || p.helps.length + p.boards.length === 0) return null;
  return (
    <section aria-labelledby="plan-helps">
      <h2 id="plan-helps">What would help</h2>
      <ul className="plain-list">
        {p.helps.map((h) => (
          <li key={h.label}>
            {h.label}
            {h.hands ? `, ${showMinutes(h.hands)} of it` : ""}:{" "}
            <strong>
              {h.lateBy > 0.5 ? `late by ${showMinutes(h.lateBy)} less` : `the last one ${showMinutes(h.last)} sooner`}
            </strong>
          </li>
        ))}
      </ul>
      {p.boards.map((b) => (
        <div key={b.id}>
          <Link to={`/boards/${b.id}?stage=give`}>{b.name}</Link>
          <ul className="plain-list">
            {b.helps.map((h) => (
              <li key={h.label}>
                {words(h.label)}: <strong>{showMinutes(h.saves)} sooner</strong>
                {h.enough && ", in time"}
              </li>
            ))}
          </ul>
        </div>
      ))}
      <p className="facts">
        Hours and helpers are set at the <Link to="/shop">Shop</Link>; what helps one board is taken under its Give.
      </p>
    </section>
  );
}

/** Feed is the plan as a calendar file, and the address under which a calendar program reads it. */
function Feed() {
  const client = useQueryClient();
  const feed = useQuery({ queryKey: ["feed"], queryFn: () => unwrap(api.GET("/api/plan/feed")) });
  const give = useMutation({
    mutationFn: (on: boolean) => unwrap(api.POST("/api/plan/feed", { body: { on } })),
    onSuccess: (now) => client.setQueryData(["feed"], now),
  });
  const path = feed.data?.path;
  return (
    <details className="feed">
      <summary>In your calendar</summary>
      <p>
        <a href="/api/plan.ics" download>
          Calendar file
        </a>{" "}
        with your hours, an alarm at the end of each wait, and the days.
      </p>
      {path ? (
        <>
          <p>
            A calendar program that reads this address follows the plan. Whoever knows it can read it too:{" "}
            <code>{window.location.origin + path}</code>
          </p>
          <Button size="sm" variant="outline-primary" disabled={give.isPending} onClick={() => give.mutate(true)}>
            Give it another address
          </Button>{" "}
          <Button size="sm" variant="outline-secondary" disabled={give.isPending} onClick={() => give.mutate(false)}>
            Take it away
          </Button>
        </>
      ) : (
        <Button size="sm" variant="outline-primary" disabled={give.isPending} onClick={() => give.mutate(true)}>
          Give the plan an address
        </Button>
      )}
      <Wrong error={give.error} />
    </details>
  );
}

/** Told says what is late, when the last board is ready, and what the days that steps are locked to cost. */
function Told({ of: p }: { of: WorkPlan }) {
  const { time } = useWorkshop();
  return (
    <p className="facts">
      {p.late === 0 ? "All are in time. " : `${p.late} too late, together by ${showMinutes(p.lateBy)}. `}
      {p.last && `The last one is ready ${time(p.last)}. `}
      {p.costs &&
        (p.costs.lateBy > 0.5 || p.costs.last > 0.5 ? (
          <strong>
            The days that steps are locked to cost {showMinutes(Math.max(p.costs.lateBy, p.costs.last))}
            {p.costs.boards.length > 0 && `: ${p.costs.boards.join(", ")} too late`}.
          </strong>
        ) : (
          "The days that steps are locked to cost nothing."
        ))}
    </p>
  );
}

interface PictureProps {
  of: WorkPlan;
  courses: Course[];
  picked?: string;
  onPick: (p: Picked) => void;
  onMove: (p: Picked, day: string) => void;
}

/** Picture draws the courses against the days. */
function Picture({ of: p, courses, picked, onPick, onMove }: PictureProps) {
  const { time, shop } = useWorkshop();
  const svg = useRef<SVGSVGElement>(null);
  const [drag, setDrag] = useState<{ of: string; x0: number; dx: number }>();
  const from = at(p.now) - day / 2;
  const last = Math.max(at(p.now) + 14 * day, ...courses.flatMap((c) => [c.finish, c.due]).map((m) => (m ? at(m) : 0)));
  const to = last + 2 * day;
  const x = (moment: number) => ((moment - from) / day) * perDay;
  const width = x(to);
  const height = head + courses.length * row + 6;
  const days = midnights(from, to, shop.timeZone);
  const end = () => setDrag(undefined);
  const drop = (of: Picked) => {
    if (drag && Math.abs(drag.dx) > perDay / 2) {
      onMove(of, dayOf(at(of.step.starts!) + (drag.dx / perDay) * day, shop.timeZone));
    }
    end();
  };
  const nudge = (of: Picked, by: number) => onMove(of, dayOf(at(of.step.starts!) + by * day, shop.timeZone));
  const onKey = (of: Picked) => (e: KeyboardEvent) => {
    if (e.key === "Enter" || e.key === " ") onPick(of);
    else if (e.key === "ArrowRight") nudge(of, 1);
    else if (e.key === "ArrowLeft") nudge(of, -1);
    else return;
    e.preventDefault();
  };
  return (
    <div className="plan-picture">
      <div className="plan-names" style={{ paddingTop: head }}>
        {courses.map((c) => (
          <div key={c.subject.id} style={{ height: row }} className={c.late ? "late" : ""}>
            <Link to={c.subject.kind === "board" ? `/boards/${c.subject.id}` : `/timber/${c.subject.id}`}>
              {c.name}
            </Link>
          </div>
        ))}
      </div>
      <div className="plan-days" tabIndex={0} role="region" aria-label="Calendar of all work">
        <svg ref={svg} width={width} height={height} onPointerLeave={end}>
          {p.sessions.map((s) => (
            <rect
              key={s.from + (s.who ?? "")}
              className={s.who ? "session helper" : "session"}
              x={x(at(s.from)) - 1}
              y={head - 4}
              width={Math.max(3, x(at(s.to)) - x(at(s.from)) + 2)}
              height={height - head}
            />
          ))}
          {days.map((d) => {
            const monday = new Date(d + day / 2).toLocaleDateString("en", {
              weekday: "short",
              timeZone: shop.timeZone,
            });
            return (
              <g key={d}>
                <path className={monday === "Mon" ? "week" : "day"} d={`M${x(d)} ${head - 6}V${height}`} />
                {monday === "Mon" && (
                  <text x={x(d) + 3} y={14}>
                    {time(new Date(d + day / 2).toISOString(), false)}
                  </text>
                )}
              </g>
            );
          })}
          {courses.map((course, i) => (
            <g key={course.subject.id} transform={`translate(0 ${head + i * row})`}>
              {course.due && (
                <path className={`due-line ${course.late ? "late" : ""}`} d={`M${x(at(course.due))} 1V${row - 1}`} />
              )}
              {course.steps
                .filter((step) => step.starts && step.ends && step.waitUntil)
                .map((step) => {
                  const it = { course, step };
                  const name = nameOfStep(it);
                  return (
                    <Work
                      key={step.key}
                      of={it}
                      x={x}
                      sessions={p.sessions}
                      picked={picked === name}
                      moved={drag?.of === name ? drag.dx : 0}
                      onPick={() => onPick(it)}
                      onKeyDown={onKey(it)}
                      onDown={(at) => setDrag({ of: name, x0: at, dx: 0 })}
                      onMove={(at) => drag?.of === name && setDrag({ ...drag, dx: at - drag.x0 })}
                      onUp={() => drop(it)}
                      onCancel={end}
                    />
                  );
                })}
            </g>
          ))}
          <path className="now" d={`M${x(at(p.now))} ${head - 8}V${height}`} />
        </svg>
      </div>
    </div>
  );
}

interface WorkProps {
  of: Picked;
  x: (moment: number) => number;
  sessions: WorkPlan["sessions"];
  picked: boolean;
  /** By how much it is being dragged. */
  moved: number;
  onPick: () => void;
  onKeyDown: (e: KeyboardEvent) => void;
  onDown: (at: number) => void;
  onMove: (at: number) => void;
  onUp: () => void;
  onCancel: () => void;
}

/** Work is one step on the calendar: its hours, and its wait. */
function Work({ of: { course, step }, x, sessions, picked, moved, ...on }: WorkProps) {
  const { time, words } = useWorkshop();
  const [begins, ends, over] = [step.starts!, step.ends!, step.waitUntil!].map((moment) => x(at(moment)));
  const how = `${step.critical ? "critical" : ""} ${step.late ? "late" : ""}`;
  const stretches = sessions
    .filter((s) => (s.who ?? "") === (step.who ?? ""))
    .map((s) => [Math.max(begins, x(at(s.from))), Math.min(ends, x(at(s.to)))])
    .filter(([a, b]) => b > a);
  return (
    <g transform={moved ? `translate(${moved} 0)` : undefined}>
      {over > ends + 0.5 && <rect className="waits" x={ends} y={7} width={over - ends} height={6} />}
      {step.minutes > 0 && (
        <>
          {stretches.map(([a, b]) => (
            <rect key={a} className={`hands-on ${how}`} x={a - 1} y={3} width={Math.max(4, b - a)} height={14} />
          ))}
          <rect
            className={`hands ${step.pinned ? "pinned" : ""} ${picked ? "is-picked" : ""}`}
            x={begins - 1}
            y={3}
            width={Math.max(4, ends - begins)}
            height={14}
            tabIndex={0}
            role="button"
            aria-label={[
              `${course.name}: ${words(step.title)}`,
              time(step.starts!),
              ...(step.pinned ? ["locked to its day"] : []),
            ].join(", ")}
            onKeyDown={on.onKeyDown}
            onClick={on.onPick}
            onPointerDown={(e) => {
              e.currentTarget.setPointerCapture(e.pointerId);
              on.onDown(e.clientX);
            }}
            onPointerMove={(e) => on.onMove(e.clientX)}
            onPointerUp={on.onUp}
            onPointerCancel={on.onCancel}
          />
        </>
      )}
    </g>
  );
}

/** StepCard tells of one step, and locks it to a day. */
function StepCard({ of, onPin }: { of: Picked; onPin: (day: string) => void }) {
  const { time, words } = useWorkshop();
  const { nameOf } = useStages();
  const { course, step } = of;
  const ref = useRef<HTMLElement>(null);
  useEffect(() => ref.current?.scrollIntoView({ block: "nearest" }), [step.key]);
  return (
    <section ref={ref} className="operation plan-step" aria-label={words(step.title)}>
      <h2>{words(step.title)}</h2>
      <p>
        {course.name}, {nameOf(step.stage)}
      </p>
      {step.detail && <p className="facts">{words(step.detail)}</p>}
      <p>
        {showMinutes(step.minutes)}
        {step.shared ? `, ${showMinutes(step.shared)} spared since it is set up already` : ""}
        {step.who && `, by ${step.who}`}. {step.starts && `From ${time(step.starts)}. `}
        {step.latestAt && `At the latest ${time(step.latestAt)}. `}
        {step.critical && "Nothing on this board may begin as little later. "}
        {step.fromWhat && `It waits for ${step.fromWhat}. `}
        {step.full && `No place is free sooner: ${words(step.full)}. `}
      </p>
      {step.unkept && <p className="wrong">It cannot be on the day that it is locked to: {step.unkept}.</p>}
      <div className="d-flex gap-2 align-items-end flex-wrap">
        <label className="field">
          <span className="form-label">Locked to</span>
          <input
            className="form-control form-control-sm"
            type="date"
            value={step.pinned ?? ""}
            onChange={(e) => onPin(e.target.value)}
          />
        </label>
        {step.pinned && (
          <Button size="sm" variant="outline-primary" onClick={() => onPin("")}>
            Let it go
          </Button>
        )}
      </div>
    </section>
  );
}
