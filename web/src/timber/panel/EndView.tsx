// The ends of a panel's strips with their growth rings, seen from the butt.
import { useId } from "react";
import type { OfParts, Panel } from "../../api/client";

interface Props {
  panel: Panel;
  parts: OfParts;
  picked: string;
}

export function EndView({ panel, parts, picked }: Props) {
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const ends = parts.ends;
  if (ends.length === 0) return null;
  const last = ends[ends.length - 1];
  const [w, h] = [last.left + last.width, Math.max(...ends.map((e) => e.height))];
  const light = (strip: number) => (parts.first ?? parts.parts).find((d) => d.strip === strip);
  return (
    <figure className="end-view">
      <svg viewBox={`-2 -2 ${w + 4} ${h + 4}`} role="img" aria-label="Ends of the strips with their rings">
        {ends.map((e) => {
          const drawn = light(e.strip);
          return (
            <g key={e.strip} transform={`translate(0 ${h}) scale(1 -1)`}>
              <clipPath id={`${id}-${e.strip}`}>
                <rect x={e.left} y={0} width={e.width} height={e.height} />
              </clipPath>
              <rect x={e.left} y={0} width={e.width} height={e.height} fill={drawn?.light} />
              <g clipPath={`url(#${id}-${e.strip})`} fill="none" stroke={drawn?.dark} strokeWidth={0.8}>
                {e.rings.map((r) => (
                  <circle key={r} cx={e.x} cy={e.y} r={r} />
                ))}
              </g>
              <rect
                x={e.left}
                y={0}
                width={e.width}
                height={e.height}
                className={`end-box ${panel.strips[e.strip]?.id === picked ? "is-picked" : ""}`}
              />
            </g>
          );
        })}
      </svg>
      <figcaption className="facts">From the butt, show face up: rings, and how they stand.</figcaption>
    </figure>
  );
}
