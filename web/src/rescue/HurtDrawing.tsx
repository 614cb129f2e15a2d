// A board as it was planned, what is gone of it, and a way out drawn over it.
import type { Hurt, WayOut } from "../api/client";
import { useWorkshop } from "../kit/workshop";

interface Props {
  of: Hurt;
  /** The way out that is drawn over it. */
  way?: WayOut;
  label: string;
  small?: boolean;
}

/** frameOf is what of a drawing is seen: the board with what is drawn over it. */
export function frameOf(of: Hurt, way?: WayOut): { x: number; y: number; wide: number; high: number; line: number } {
  const boxes = [of.box, ...(way?.path ? [way.box] : [])];
  const [x0, y0] = [Math.min(...boxes.map((b) => b[0])), Math.min(...boxes.map((b) => b[1]))];
  const [x1, y1] = [Math.max(...boxes.map((b) => b[2])), Math.max(...boxes.map((b) => b[3]))];
  const size = Math.max(x1 - x0, y1 - y0);
  const spare = size / 30;
  return {
    x: x0 - spare,
    y: -y1 - spare,
    wide: x1 - x0 + 2 * spare,
    high: y1 - y0 + 2 * spare,
    line: size / 220,
  };
}

/** HurtPaths are the paths of a hurt board, in its frame. */
export function HurtPaths({ of, way }: { of: Hurt; way?: WayOut }) {
  const whole = [of.path, ...of.holes].join("");
  if (!way?.path)
    return (
      <>
        <path d={whole} fill={of.light} fillRule="evenodd" stroke={of.dark} className="hurt-line" />
        {of.gone.map((d, i) => (
          <path key={i} d={d} className="hurt-gone" />
        ))}
      </>
    );
  return (
    <>
      <path d={whole} fillRule="evenodd" className="hurt-ghost" />
      <path
        d={[way.path, ...way.holes].join("")}
        fill={of.light}
        fillRule="evenodd"
        stroke={of.dark}
        className="hurt-line"
      />
      {of.gone.map((d, i) => (
        <path key={i} d={d} className="hurt-gone over" />
      ))}
    </>
  );
}

export function HurtDrawing({ of, way, label, small = false }: Props) {
  const { words } = useWorkshop();
  const f = frameOf(of, way);
  return (
    <svg
      className={`hurt-drawing ${small ? "small" : ""}`}
      viewBox={`${f.x} ${f.y} ${f.wide} ${f.high}`}
      {...(label ? { role: "img", "aria-label": words(label) } : { "aria-hidden": true })}
      style={{ strokeWidth: f.line }}
    >
      <g transform="scale(1 -1)">
        <HurtPaths of={of} way={way} />
      </g>
    </svg>
  );
}
