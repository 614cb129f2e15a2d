import type { Mix } from "../../api/client";
import { showMinutes } from "../../kit/length";
import { useWorkshop } from "../../kit/workshop";

/** HeatCurve is how the pour that keeps its heat best warms, hour by hour. */
export function HeatCurve({ warms }: { warms: Mix["warms"] }) {
  const { value } = useWorkshop();
  const { curve, peak, at, cool, hot } = warms;
  const lines = [
    { at: cool, level: "mind" },
    { at: hot, level: "stop" },
  ];
  const hours = curve.at(-1)?.hours ?? 0;
  if (hours === 0) return null;
  const [width, height, foot] = [280, 90, 14];
  const coolest = Math.min(...curve.map((t) => t.heat)) - 5;
  const top = Math.max(hot, peak) + 20; // what is written over the line has room
  const x = (h: number) => (h / hours) * width;
  const y = (heat: number) => height - foot - ((heat - coolest) / (top - coolest)) * (height - foot);
  return (
    <figure className="heat">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`The pour warms to ${value(peak, "°C")} after ${showMinutes(at * 60)}`}
      >
        {lines.map((l) => (
          <g key={l.at} className={`heat-line level-${l.level}`}>
            <path d={`M0 ${y(l.at)}H${width}`} />
            <text x={width} y={y(l.at) - 3} textAnchor="end">
              {value(l.at, "°C")}
            </text>
          </g>
        ))}
        <path className="heat-curve" d={`M${curve.map((t) => `${x(t.hours)} ${y(t.heat)}`).join("L")}`} />
        <circle className="heat-peak" cx={x(at)} cy={y(peak)} r={3} />
        <text className="heat-foot" x={0} y={height - 2}>
          poured
        </text>
        <text className="heat-foot" x={width} y={height - 2} textAnchor="end">
          {showMinutes(hours * 60)} after
        </text>
      </svg>
      <figcaption className="facts">
        Hottest {value(peak, "°C")}, {showMinutes(at * 60)} after it is poured.
      </figcaption>
    </figure>
  );
}
