// The story stick drawn against the calendar: each stage's work and waits from
// now to the day, to scale.
import type { Reckoned } from "../api/client";
import { midnights } from "../kit/length";
import { useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

const day = 86_400_000;

export function Calendar({ course }: { course: Reckoned["course"] }) {
  const { time, shop } = useWorkshop();
  const { stages, nameOf } = useStages();
  const dated = course.steps.filter((s) => (s.starts && s.ends) || s.doneAt);
  if (dated.length === 0 || !course.finish) return null;
  const begin = (s: (typeof dated)[number]) => new Date(s.starts ?? s.doneAt!).getTime();
  const end = (s: (typeof dated)[number]) => new Date(s.ends ?? s.doneAt!).getTime();
  const from = Math.min(...dated.map(begin)) - day / 2;
  const finish = new Date(course.finish).getTime();
  const due = course.due ? new Date(course.due).getTime() : finish;
  const to = Math.max(finish, due) + day;
  const width = 460;
  const left = 58;
  const row = 17;
  const used = stages.filter((g) => dated.some((s) => s.stage === g));
  const height = used.length * row + 34;
  const x = (t: number) => left + ((t - from) / (to - from)) * (width - left - 8);
  const days = midnights(from, to, shop.timeZone);
  const every = Math.ceil(days.length / 6);
  const ticks = days.filter((_, i) => i % every === 0);
  return (
    <svg
      className="calendar"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Earliest finish ${time(course.finish)}${course.due ? `, wanted ${time(course.due)}` : ""}`}
    >
      {ticks.map((t) => (
        <g key={t}>
          <path className="week" d={`M${x(t)} 4V${height - 22}`} />
          <text className="quiet" x={x(t) + 2} y={height - 10}>
            {time(new Date(t).toISOString(), false).split(" ").slice(1).join(" ")}
          </text>
        </g>
      ))}
      {used.map((g, i) => (
        <g key={g}>
          <text x={0} y={i * row + 16}>
            {nameOf(g)}
          </text>
          {dated
            .filter((s) => s.stage === g)
            .map((s) => {
              const until = Math.max(
                s.waitUntil ? new Date(s.waitUntil).getTime() : end(s),
                s.rest > 0 ? end(s) + s.rest * 60000 : 0,
              );
              return (
                <g key={s.key}>
                  {until > end(s) && (
                    <rect
                      className="waits"
                      x={x(end(s))}
                      y={i * row + 8}
                      width={Math.max(0.5, x(until) - x(end(s)))}
                      height={8}
                    />
                  )}
                  <rect
                    className="hands"
                    x={x(begin(s)) - 1.5}
                    y={i * row + 6}
                    width={Math.max(3, x(end(s)) - x(begin(s)))}
                    height={12}
                  />
                </g>
              );
            })}
        </g>
      ))}
      {course.due && <path className={`due-line ${course.late ? "late" : ""}`} d={`M${x(due)} 2V${height - 22}`} />}
    </svg>
  );
}
