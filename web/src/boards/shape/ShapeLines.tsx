// The lines over the wood of a board: in mm, in the board's frame.
import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type Node, type Point, type Reckoned } from "../../api/client";
import { pen } from "../../kit/drawing";

export interface Overlays {
  cut: boolean;
  mirror: boolean;
  grain: boolean;
}

interface Props {
  r: Reckoned;
  over: Overlays;
  flipped: boolean;
  part: string;
  /** A line across, to split the board by. */
  across: Node[];
}

/** arrow is a line with a head at its end. */
function arrow(a: Point, b: Point): string {
  const long = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const [ux, uy] = [((b.x - a.x) / long) * 6, ((b.y - a.y) / long) * 6];
  const barb = (side: number) => `${b.x - ux - (side * uy) / 2} ${b.y - uy + (side * ux) / 2}`;
  return `M${a.x} ${a.y}L${b.x} ${b.y}M${barb(1)}L${b.x} ${b.y}L${barb(-1)}`;
}

/** ShapeLines are the outline, what is sawn, and what is asked to be seen. */
export function ShapeLines({ r, over, flipped, part, across }: Props) {
  const s = r.shape;
  const [left, , right] = r.box;
  return (
    <>
      {over.cut && <path d={s.cutLine} className="cut-line" {...pen} />}
      {s.keepAway && (
        <path d={s.keepAway} className="keep-away" {...pen}>
          <title>No saw, clamp or fence here: the live edge stays</title>
        </path>
      )}
      <path d={r.path} className={`board-line shape-line board-${r.level}`} {...pen} />
      {r.holes.map((h, i) => (
        <path key={i} d={h} className="shape-hole" {...pen} />
      ))}
      {s.planned && <path d={s.planned} className="planned-line" {...pen} />}
      {over.mirror && <path d={r.path} className="mirror-line" transform="scale(1 -1)" {...pen} />}
      <path d={`M${left - 12} 0H${right + 12}`} className="chalk-line" {...pen} />
      {over.grain &&
        s.stretches.map((t, i) => <path key={i} d={t.path} className={`stretch stretch-${t.grain}`} {...pen} />)}
      {r.fittings.outlines.map((o) => (
        <path key={o.name} d={o.path} className={`fitting-shape ${o.under !== flipped ? "is-hidden" : ""}`} {...pen}>
          <title>{o.name}</title>
        </path>
      ))}
      {r.fittings.slots.map((t, i) => (
        <path
          key={i}
          className={`slot-line ${t.under !== flipped ? "is-hidden" : ""}`}
          d={wedge(t.a, t.b, Math.max(t.width, 1.4), t.depthA, t.depthB)}
          {...pen}
        />
      ))}
      {r.fittings.bores.map((t, i) => (
        <path
          key={i}
          className={`bore-line ${t.below || (t.under ?? false) !== flipped ? "is-hidden" : ""}`}
          d={t.path}
          {...pen}
        />
      ))}
      {part === "recesses" &&
        s.carving.map(([a, b], i) => (
          <path key={i} d={arrow(a, b)} className="carving" {...pen}>
            <title>Carve this way, along the grain</title>
          </path>
        ))}
      {s.fades.map((t, i) => (
        <circle key={i} className="fade" cx={t.x} cy={t.y} r={4} {...pen}>
          <title>The profile ends here: fade it by hand</title>
        </circle>
      ))}
      {part === "cut" &&
        s.entries
          .filter((t) => t.diameter > 0)
          .map((t, i) => <circle key={i} className="entry" cx={t.at.x} cy={t.at.y} r={t.diameter / 2} {...pen} />)}
      {part === "set" && across.length > 1 && <SplitLine line={across} />}
    </>
  );
}

/** SplitLine is the curve through the points of a line across. */
function SplitLine({ line }: { line: Node[] }) {
  const curve = useQuery({
    queryKey: ["line", line],
    placeholderData: (was) => was,
    gcTime: 0,
    queryFn: () => unwrap(api.POST("/api/lines", { body: { line } })),
  });
  return <path className="split-line" d={curve.data?.path ?? ""} {...pen} />;
}

/** Waste is what falls off between the outline and the line that the saw is led along. */
export function Waste({ r }: { r: Reckoned }) {
  return (
    <>
      <defs>
        <pattern id="shape-waste" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V6" className="waste-line" />
        </pattern>
      </defs>
      {r.shape.waste.map((w, i) => (
        <path key={i} d={w.cut + w.line} className="waste" fillRule="evenodd" />
      ))}
    </>
  );
}

/** wedge is a slot seen from above, as much wider at an end as it is deeper there. */
function wedge(a: Point, b: Point, width: number, deepA: number, deepB: number): string {
  const l = Math.hypot(b.x - a.x, b.y - a.y) || 1;
  const n = { x: -(b.y - a.y) / l, y: (b.x - a.x) / l };
  const deep = Math.max(deepA, deepB, 0.1);
  const wa = (width / 2) * (0.4 + (1.6 * deepA) / deep);
  const wb = (width / 2) * (0.4 + (1.6 * deepB) / deep);
  const p = (q: Point, w: number) => `${q.x + n.x * w} ${q.y + n.y * w}`;
  return `M${p(a, wa)}L${p(b, wb)}L${p(b, -wb)}L${p(a, -wa)}z`;
}
