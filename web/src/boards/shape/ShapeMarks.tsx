// The marks over a board's drawing: in pixels, so that they keep their size.
import type { Point, Reckoned } from "../../api/client";
import { Dimension } from "../../kit/drawing";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  r: Reckoned;
  flipped: boolean;
  toScreen: (p: Point) => Point;
  /** Of the drawing, px. */
  height: number;
}

/** How far the name of a mark in a side stands beside it, px. */
const beside = 14;

const alwaysMarked = ["web", "neck"];

/** ShapeMarks are the dimensions, feet, marks of the fittings, balance point and what is judged. */
export function ShapeMarks({ r, flipped, toScreen, height }: Props) {
  const { length } = useWorkshop();
  const [left, bottom, right, top] = r.box;
  const [near, far] = flipped ? [top, bottom] : [bottom, top];
  const balance = toScreen(r.shape.balance);
  const middle = toScreen({ x: (left + right) / 2, y: near }).x;
  const corner = toScreen({ x: left, y: near });
  const marked = r.verdicts.filter((v) => v.mark && (v.level !== "good" || alwaysMarked.includes(v.check)));
  return (
    <>
      <Dimension from={corner} to={toScreen({ x: right, y: near })} text={length(right - left)} off={24} />
      <Dimension from={corner} to={toScreen({ x: left, y: far })} text={length(top - bottom)} off={-24} />
      {r.shape.feet.map((p, i) => {
        const q = toScreen(p);
        return <circle key={i} className={`foot ${flipped ? "" : "is-hidden"}`} cx={q.x} cy={q.y} r={6} />;
      })}
      {r.fittings.spots
        .filter((t) => t.diameter > 0)
        .map((t, i) => {
          const q = toScreen(t);
          return (
            <g key={i} className={`spot ${t.face === (flipped ? "show face" : "under face") ? "is-hidden" : ""}`}>
              <path d={cross(q, 7)} />
              {t.face.endsWith("side") && (
                <text
                  x={q.x + (q.x > middle ? -beside : beside)}
                  y={q.y + (q.y > height / 2 ? -10 : 20)}
                  textAnchor={q.x > middle ? "end" : "start"}
                >
                  {t.name}, {t.face}
                </text>
              )}
            </g>
          );
        })}
      <path className="balance" d={cross(balance, 6)}>
        <title>Balance point</title>
      </path>
      {marked.map((v, i) => {
        const a = toScreen({ x: v.mark!.ax, y: v.mark!.ay });
        const b = toScreen({ x: v.mark!.bx, y: v.mark!.by });
        return (
          <path key={i} className={`mark mark-${v.level}`} d={`M${a.x} ${a.y}L${b.x} ${b.y}`}>
            <title>{v.finding}</title>
          </path>
        );
      })}
    </>
  );
}

const cross = (p: Point, arm: number): string => `M${p.x - arm} ${p.y}h${2 * arm}M${p.x} ${p.y - arm}v${2 * arm}`;
