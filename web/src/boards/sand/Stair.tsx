// The ladder of grits drawn as a descending stair: each tread as wide as its
// minutes, as high as what the grit leaves.
import type { Ladder } from "../../api/client";
import { showMinutes } from "../../kit/length";

/** treadOf tells one grit of the ladder. */
const treadOf = (r: Ladder["rungs"][number]): string =>
  `P${r.grit} ${showMinutes(r.minutes)}, leaves ${r.leaves.toFixed(1)} µm`;

export function Stair({ ladder }: { ladder?: Ladder }) {
  if (!ladder) return null;
  const width = 360;
  const height = 132;
  const base = height - 30;
  const total = Math.max(0.1, ladder.minutes);
  const high = Math.max(ladder.rough, 1);
  const y = (rough: number) => 16 + (1 - Math.sqrt(rough / high)) * (base - 26);
  const least = 26; // so that every tread can hold its name
  const room = width - 30 - least * ladder.rungs.length;
  let x = 24;
  const treads = ladder.rungs.map((r, i) => {
    const w = least + (r.minutes / total) * Math.max(0, room);
    const from = i === 0 ? ladder.rough : ladder.rungs[i - 1].leaves;
    const tread = { ...r, x, w, top: y(from), to: y(r.leaves) };
    x += w;
    return tread;
  });
  return (
    <svg
      className="stair"
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Stair of grits, ${ladder.surface}: ${ladder.rungs.map(treadOf).join("; ")}`}
    >
      <path
        className="stair-line"
        d={`M4 ${y(ladder.rough)}H24${treads.map((t) => `V${t.to}H${t.x + t.w}`).join("")}V${base}H4Z`}
      />
      {treads.map((t) => (
        <g key={t.grit} className={`tread tread-${t.level}`}>
          <path d={`M${t.x} ${t.to}H${t.x + t.w}`} />
          <text x={t.x + t.w / 2} y={t.to - 4}>
            P{t.grit}
          </text>
          <text className="small" x={t.x + t.w / 2} y={base + 13}>
            {t.minutes.toFixed(1)}
          </text>
          <text className="small" x={t.x + t.w / 2} y={base + 25}>
            {t.leaves.toFixed(0)} µm
          </text>
        </g>
      ))}
      <text className="small from" x={4} y={y(ladder.rough) - 4}>
        {ladder.rough.toFixed(0)} µm
      </text>
    </svg>
  );
}
