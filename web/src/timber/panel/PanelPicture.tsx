// A small picture of a panel in the colours of its woods.
import type { Drawn } from "../../api/client";

export function PanelPicture({ parts, length, width }: { parts: Drawn[]; length: number; width: number }) {
  return (
    <svg className="panel-picture" viewBox={`0 ${-width / 2} ${length} ${width}`} aria-hidden="true">
      <g transform="scale(1 -1)">
        {parts.map((p, i) => (
          <path key={i} d={p.path} fill={p.light} stroke={p.dark} strokeWidth={length / 500} />
        ))}
      </g>
    </svg>
  );
}
