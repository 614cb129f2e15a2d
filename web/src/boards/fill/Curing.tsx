// How far the last pour has come, by the warmth that the room really had.
import type { Reckoned } from "../../api/client";
import { showMinutes } from "../../kit/length";
import { useWorkshop } from "../../kit/workshop";

type Cure = NonNullable<Reckoned["curing"]>;

/** Curing tells when a pour comes off its dam, is sanded, and is cured through. */
export function Curing({ of: c }: { of: Cure }) {
  const { time } = useWorkshop();
  const rows: [string, string | undefined][] = [
    ["Off the dam from", c.demould],
    ...(c.from ? ([["The next pour from", c.from]] as [string, string][]) : []),
    ...(c.until ? ([["and no later than", c.until]] as [string, string][]) : []),
    ["Sanded from", c.sand],
    ["Cured through", c.full],
  ];
  return (
    <section className="curing">
      <h2>Curing</h2>
      <p>
        {c.kind[0].toUpperCase() + c.kind.slice(1)} resin, poured {time(c.poured)}. It has had{" "}
        <strong>{showMinutes(c.had * 60)}</strong> of {showMinutes(c.needs * 60)} at its data sheet&apos;s warmth
        {c.cold > 0 && <>; {showMinutes(c.cold * 60)} were too cold, and count for nothing</>}.
      </p>
      <ul className="plain-list">
        {rows.map(([what, at]) => (
          <li key={what}>
            {what} <strong>{at ? time(at) : "never, in this room"}</strong>
          </li>
        ))}
      </ul>
      <RoomChart of={c} />
    </section>
  );
}

/** RoomChart is the room since the pour, reading by reading, against the least that the resin bears. */
function RoomChart({ of: { read, poured, coldest } }: { of: Cure }) {
  const { value, time } = useWorkshop();
  if (read.length < 2) return <p className="facts">No sensor has read the room since: its usual warmth counts.</p>;
  const [width, height, foot] = [280, 90, 14];
  const from = Date.parse(poured);
  const until = Date.parse(read.at(-1)!.at);
  const all = [...read.map((r) => r.celsius), coldest];
  const [low, high] = [Math.min(...all) - 2, Math.max(...all) + 2];
  const x = (at: string) => (Math.max(0, Date.parse(at) - from) / Math.max(1, until - from)) * width;
  const y = (t: number) => height - foot - ((t - low) / (high - low)) * (height - foot);
  return (
    <figure className="heat">
      <svg viewBox={`0 0 ${width} ${height}`} role="img" aria-label={`The room since it was poured, ${time(poured)}`}>
        <g className="heat-line">
          <path d={`M0 ${y(coldest)}H${width}`} />
          <text x={width} y={y(coldest) - 3} textAnchor="end">
            {value(coldest, "°C")} at the least
          </text>
        </g>
        <path className="heat-curve" d={`M${read.map((r) => `${x(r.at)} ${y(r.celsius)}`).join("L")}`} />
        <text className="heat-foot" x={0} y={height - 2}>
          poured
        </text>
        <text className="heat-foot" x={width} y={height - 2} textAnchor="end">
          {time(read.at(-1)!.at)}, {value(read.at(-1)!.celsius, "°C")}
        </text>
      </svg>
      <figcaption className="facts">The room, as its sensor read it.</figcaption>
    </figure>
  );
}
