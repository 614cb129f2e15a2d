// Strips side by side with the clamps across them: those below dashed, those above full.
import type { Drawn, Pressed } from "../../api/client";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  pressed: Pressed;
  glued: { parts: Drawn[]; first?: Drawn[] | null };
}

/** ClampDrawing shows a clamping from above, its length along the paper. */
export function ClampDrawing({ pressed: k, glued }: Props) {
  const { length } = useWorkshop();
  const caul = k.caul;
  const n = Math.max(1, k.widths.length);
  const light = (i: number) => {
    const strips = glued.first ?? glued.parts;
    return k.slices ? undefined : strips.find((p) => p.strip === k.from + i)?.light;
  };
  const [w, h] = [k.length, k.wide];
  const room = Math.max(18, w * 0.05);
  let at = 0;
  return (
    <svg
      className="clamping"
      viewBox={`${-room} ${-caul - 40} ${w + 2 * room} ${h + 2 * caul + 80}`}
      role="img"
      aria-label={`${k.name}: ${k.clamps.length} clamps on ${n} parts`}
    >
      <rect className="caul" x={0} y={-caul} width={w} height={caul} />
      <rect className="caul" x={0} y={h} width={w} height={caul} />
      {k.widths.map((wide, i) => {
        const y = at;
        at += wide;
        return (
          <g key={i}>
            <rect className="clamped-part" x={0} y={y} width={w} height={wide} style={{ fill: light(i) }} />
            {n <= 16 && (
              <text x={room * 0.5} y={y + wide / 2} className="part-number">
                {k.from + i + 1}
              </text>
            )}
          </g>
        );
      })}
      {k.clamps.map((c, i) => (
        <g key={i} className={c.below ? "clamp is-below" : "clamp"}>
          <path d={`M${c.x} ${-caul - 16}V${h + caul + 16}`} />
          <path d={`M${c.x - 9} ${-caul}h18M${c.x - 9} ${h + caul}h18`} />
        </g>
      ))}
      {k.clamps.map((c, i) => (
        <text key={i} x={c.x} y={c.below ? h + caul + 34 : -caul - 22} className="clamp-at">
          {length(Math.round(c.x))}
        </text>
      ))}
    </svg>
  );
}
