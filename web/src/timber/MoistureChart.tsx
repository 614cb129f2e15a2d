// The moisture log: what was read, where it is heading, and the band of the
// home that it should come into.
import type { Slab, Wood } from "../api/client";
import { useWorkshop } from "../kit/workshop";

export function MoistureChart({ log, wood }: { log: Slab["moisture"]; wood: Wood }) {
  const { time } = useWorkshop();
  const read = log
    .filter((m) => !m.below)
    .map((m) => ({ at: m.at, percent: Number((m.percent + (m.correction ?? 0)).toFixed(2)) }));
  if (read.length === 0) return null;
  const { curve, emc } = wood.drying;
  const band = wood.verdicts.find((v) => v.check === "moisture")?.limit ?? 0;
  const at = (t: string) => new Date(t).getTime();
  const times = [...read, ...curve].map((p) => at(p.at));
  const [from, to] = [Math.min(...times), Math.max(...times)];
  const values = [
    ...read.map((m) => m.percent),
    ...curve.flatMap((p) => [p.low, p.high]),
    wood.homeMean - band,
    wood.homeMean + band,
    emc,
  ];
  const [low, high] = [Math.floor(Math.min(...values) - 0.5), Math.ceil(Math.max(...values) + 0.5)];
  const size = { width: 440, height: 150, left: 34, bottom: 20 };
  const x = (t: number) => size.left + (to > from ? (t - from) / (to - from) : 0.5) * (size.width - size.left - 10);
  const y = (v: number) => 6 + (1 - (v - low) / (high - low)) * (size.height - size.bottom - 6);
  const line = (pick: (p: (typeof curve)[number]) => number, points = curve) =>
    points.map((p) => `${x(at(p.at))} ${y(pick(p))}`).join("L");
  const last = read[read.length - 1];
  const mean = wood.homeMean.toFixed(1);
  const ticks = [low, (low + high) / 2, high];
  const ends = to > from ? [from, to] : [from];
  return (
    <svg
      className="moisture"
      viewBox={`0 0 ${size.width} ${size.height}`}
      role="img"
      aria-label={`Moisture from ${read[0].percent} to ${last.percent} %, the home's mean is ${mean} %`}
    >
      <rect
        className="home"
        x={size.left}
        width={size.width - size.left - 10}
        y={y(wood.homeMean + band)}
        height={y(wood.homeMean - band) - y(wood.homeMean + band)}
      />
      <path className="emc" d={`M${size.left} ${y(emc)}H${size.width - 10}`} />
      <text x={size.width - 12} y={y(emc) + 12} className="quiet end">
        the shop&apos;s air
      </text>
      <text x={size.left + 4} y={y(wood.homeMean - band) - 4} className="quiet">
        the home
      </text>
      {curve.length > 0 && (
        <>
          <path className="open" d={`M${line((p) => p.high)}L${line((p) => p.low, [...curve].reverse())}Z`} />
          <path className="trend" d={`M${line((p) => p.percent)}`} />
        </>
      )}
      {read.map((m, i) => (
        <circle key={i} cx={x(at(m.at))} cy={y(m.percent)} r={3.5}>
          <title>
            {time(m.at, false)}: {m.percent} %
          </title>
        </circle>
      ))}
      {ticks.map((v) => (
        <text key={v} x={size.left - 5} y={y(v) + 4} className="quiet end">
          {v} %
        </text>
      ))}
      {ends.map((t, i) => (
        <text key={t} x={x(t)} y={size.height - 5} className={`quiet ${i === 1 ? "end" : ""}`}>
          {time(new Date(t).toISOString(), false).split(" ").slice(1).join(" ")}
        </text>
      ))}
    </svg>
  );
}
