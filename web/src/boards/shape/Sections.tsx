// The sections of a board, drawn true, across and along.
import { memo } from "react";
import type { Section } from "../../api/client";
import { useWorkshop } from "../../kit/workshop";

export const Sections = memo(function Sections({
  sections,
  light,
  dark,
}: {
  sections: Section[];
  light: string;
  dark: string;
}) {
  const { length } = useWorkshop();
  return (
    <div className="sections">
      {sections.map((s) => {
        const [u0, z0, u1, z1] = s.box;
        const pad = 3;
        const at = length(Math.abs(s.at));
        const words = s.along
          ? "Along the middle"
          : Math.abs(s.at) < 0.5
            ? "Across the middle"
            : `Across, ${at} from the middle`;
        return (
          <figure key={String(s.along)}>
            <svg
              viewBox={`${u0 - pad} ${-z1 - pad} ${u1 - u0 + 2 * pad} ${z1 - z0 + 2 * pad}`}
              role="img"
              aria-label={`Section: ${words}`}
            >
              <g transform="scale(1 -1)">
                <path d={s.path} fill={light} stroke={dark} strokeWidth={1.2} vectorEffect="non-scaling-stroke" />
              </g>
            </svg>
            <figcaption>
              {words}, {length(u1 - u0)} × {length(z1 - z0)}
            </figcaption>
          </figure>
        );
      })}
    </div>
  );
});
