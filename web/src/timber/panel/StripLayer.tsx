// What is drawn on a panel while its strips are worked on: a number and an end arrow on
// each, and which is picked.
import type { Drawn, Panel } from "../../api/client";
import type { View } from "../../kit/drawing";

/** boxOf is the box of a path of straight lines. */
export function boxOf(path: string): { x0: number; y0: number; x1: number; y1: number } {
  const numbers = path.match(/-?\d+(\.\d+)?/g)?.map(Number) ?? [0, 0];
  const xs = numbers.filter((_, i) => i % 2 === 0);
  const ys = numbers.filter((_, i) => i % 2 === 1);
  return { x0: Math.min(...xs), y0: Math.min(...ys), x1: Math.max(...xs), y1: Math.max(...ys) };
}

interface Props {
  panel: Panel;
  /** Strips as they lie, one part each; parts of slices where the panel is cut again. */
  parts: Drawn[];
  picked: string;
  view: View;
  flipped: boolean;
  /** Strips are numbered: they are drawn whole. */
  whole: boolean;
  cuts?: string[];
}

export function StripLayer({ panel, parts, picked, view, flipped, whole, cuts }: Props) {
  const o = view.toScreen({ x: 0, y: 0 });
  const frame = `translate(${o.x} ${o.y}) scale(${view.scale} ${flipped ? view.scale : -view.scale})`;
  return (
    <>
      <g transform={frame}>
        {parts.map((p, i) => {
          const id = panel.strips[p.strip]?.id;
          return (
            <path
              key={i}
              d={p.path}
              className={`strip-reach ${id === picked ? "is-picked" : ""}`}
              data-strip={id}
              vectorEffect="non-scaling-stroke"
            />
          );
        })}
        {cuts?.map((d, i) => (
          <path key={i} d={d} className="slice-line" vectorEffect="non-scaling-stroke" />
        ))}
      </g>
      {whole &&
        parts.map((p) => {
          const strip = panel.strips[p.strip];
          if (!strip) return null;
          const box = boxOf(p.path);
          const y = (box.y0 + box.y1) / 2;
          const from = view.toScreen({ x: box.x0, y });
          const to = view.toScreen({ x: box.x1, y });
          const end = strip.turned ? from : to;
          const out = strip.turned ? 1 : -1;
          const half = ((box.y1 - box.y0) * view.scale) / 2; // px
          const r = Math.max(5, Math.min(9.5, half - 0.5));
          return (
            <g key={strip.id} className="strip-mark" pointerEvents="none">
              <circle cx={from.x + 16} cy={from.y} r={r} />
              <text x={from.x + 16} y={from.y + r * 0.42} style={{ fontSize: r * 1.25 }}>
                {p.strip + 1}
              </text>
              <path
                d={`M${end.x + out * 58} ${end.y}h${-out * 26}m0 0l${out * 7}-4m${-out * 7} 4l${out * 7} 4`}
                transform={strip.turned ? "translate(34 0)" : undefined}
              />
              {strip.flipped && (
                <text className="strip-face" x={end.x + out * 72 + (strip.turned ? 34 : 0)} y={end.y + 4}>
                  rolled
                </text>
              )}
            </g>
          );
        })}
    </>
  );
}
