// The parts of a panel in the colours of their woods: the grain along each, or its
// rings where the end of it shows.
import { useId, useMemo } from "react";
import type { Drawn } from "../api/client";

/** tint is a wood's colour as it is, or as oil deepens it. */
const tint = (p: Pick<Drawn, "light" | "dark">, oiled: boolean) =>
  oiled ? `color-mix(in srgb, ${p.light} 52%, ${p.dark})` : p.light;

const keyOf = (p: Drawn) => `${p.light}${p.dark}${Math.round(p.lean)}${p.end ? "e" : ""}`;

interface Props {
  parts: Drawn[];
  oiled?: boolean;
}

/** Pattern draws parts in the frame of their wood. */
export function Pattern({ parts, oiled = false }: Props) {
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const kinds = useMemo(() => [...new Map(parts.map((p) => [keyOf(p), p])).entries()], [parts]);
  return (
    <>
      <defs>
        {kinds.map(([key, p], i) => (
          <pattern
            key={key}
            id={`${id}-${i}`}
            width={p.end ? 22 : 64}
            height={p.end ? 22 : 13}
            patternUnits="userSpaceOnUse"
            patternTransform={`rotate(${p.lean})`}
          >
            <rect width="64" height="22" fill={tint(p, oiled)} />
            <g fill="none" stroke={p.dark} strokeWidth={0.7} opacity={oiled ? 0.55 : 0.38}>
              {p.end ? (
                <path d="M-4 20a14 14 0 0 1 28 0M-9 24a19 19 0 0 1 38 0M1 18a9 9 0 0 1 18 0" />
              ) : (
                <path d="M0 2q16 2.4 32 .4t32-.4M0 6.5q16-1.6 32 .6t32-.6M0 10.6q16 1.2 32-.5t32 .5" />
              )}
            </g>
          </pattern>
        ))}
      </defs>
      {parts.map((p, i) => (
        <path
          key={i}
          d={p.path}
          className="joint-line"
          fill={`url(#${id}-${kinds.findIndex(([key]) => key === keyOf(p))})`}
          vectorEffect="non-scaling-stroke"
        />
      ))}
    </>
  );
}
