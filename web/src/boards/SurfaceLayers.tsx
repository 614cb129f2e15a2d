// What the board looks like under Sand and under Finish: surfaces by the grit that they have reached,
// and the oiled look with the places where it stands.
import type { Board, Reckoned } from "../api/client";
import { useId, useMemo } from "react";
import { transformOf, pen, toned, type View } from "../kit/drawing";
import { grain, seedOf } from "../kit/grain";
import { useWorkshop } from "../kit/workshop";
import { out } from "./frame";

/** How many shades there are between rough and done. */
const shades = 5;

/** shadeOf is how far a surface has come, from 0 for rough to the last shade for done. */
function shadeOf(s: Reckoned["sanded"][number], ladder: Reckoned["sanding"]["ladders"][number] | undefined): number {
  const all = ladder?.rungs.length ?? 0;
  if (all === 0 || s.toGo.length === 0) return shades;
  return Math.round(((all - s.toGo.length) / all) * (shades - 1));
}

/** SandedSurfaces colours what is seen of each surface by what is left to sand. */
export function SandedSurfaces({ board, r, flipped }: { board: Board; r: Reckoned; flipped: boolean }) {
  const under = flipped !== Boolean(board.placement.flip);
  const seen = r.sanded.filter((s) => s.line || s.under === under);
  const whole = r.path + r.holes.join("");
  const order = [...seen].sort((a, b) => Number(a.line) - Number(b.line));
  return (
    <g transform={transformOf(board.placement)} className="sanded" aria-hidden>
      {order.map((s) => {
        const ladder = r.sanding.ladders.find((l) => l.surface === s.surface);
        const told = s.toGo.length > 0 ? `${s.toGo.map((g) => `P${g}`).join(", ")} to go` : "done";
        return (
          <path
            key={s.surface}
            d={s.path || whole}
            className={`sanded-${s.line ? "line" : "face"} shade-${shadeOf(s, ladder)}`}
            fillRule="evenodd"
            {...pen}
          >
            <title>
              {s.surface}: {s.reached > 0 ? `P${s.reached} reached, ` : ""}
              {told}
            </title>
          </path>
        );
      })}
    </g>
  );
}

/** SandedTold are the missed scratches and the corners, on top. */
export function SandedTold({ board, r, view }: { board: Board; r: Reckoned; view: View }) {
  const { length } = useWorkshop();
  const { scratches, corners, read } = r.atSander;
  const screen = (p: { x: number; y: number }) => view.toScreen(out(board.placement, p));
  return (
    <g className="sanded-told">
      {scratches.map((p, i) => {
        const q = screen(p);
        return (
          <circle key={i} className="scratch" cx={q.x} cy={q.y} r={9}>
            <title>A missed scratch</title>
          </circle>
        );
      })}
      {corners.map((p, i) => {
        const q = screen(p);
        return read[i] === undefined ? null : (
          <text key={i} className="void-told" x={q.x} y={q.y - 6} textAnchor="middle">
            {length(read[i])}
          </text>
        );
      })}
    </g>
  );
}

/** SandedKey tells what the shades mean. */
export function SandedKey() {
  return (
    <div className="sanded-key facts" aria-label="Shades: from all to sand to sanded">
      all to sand
      {Array.from({ length: shades + 1 }, (_, i) => (
        <span key={i} className={`shade-key shade-${i}`} />
      ))}
      sanded
    </div>
  );
}

/** OiledLook is the board as it looks with its finish on: each wood and resin in its own colour. */
export function OiledLook({ board, r }: { board: Board; r: Reckoned }) {
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const o = r.oiled;
  const [x0, y0, x1, y1] = r.box;
  const lines = useMemo(() => grain(seedOf(board.id), x0, x1, y0, y1), [board.id, x0, x1, y0, y1]);
  const whole = r.path + r.holes.join("");
  return (
    <g transform={transformOf(board.placement)} className="oiled" aria-hidden>
      <clipPath id={`oiled-${id}`}>
        <path d={whole} clipRule="evenodd" />
      </clipPath>
      <g clipPath={`url(#oiled-${id})`}>
        <path d={whole} fillRule="evenodd" fill={o.light} />
        {o.parts.map((p, i) => (
          <path key={i} d={p.path} fill={p.light} stroke={p.light} {...pen} />
        ))}
        {o.parts.length === 0 &&
          lines.map((l, i) => <path key={i} d={l.d} fill="none" stroke={o.dark} strokeOpacity={0.55} {...pen} />)}
        {r.drawn.map((d, i) => {
          const tone = r.voids[i]?.tone;
          return tone && d.paths.map((p) => <path key={p} d={p} {...toned(tone)} />);
        })}
      </g>
      <path d={whole} fillRule="evenodd" fill="none" stroke={o.dark} className="oiled-line" {...pen} />
    </g>
  );
}

/** OiledTold are the coats on it, the order of its faces and the places where it stands. */
export function OiledTold({ board, r, view, flipped }: { board: Board; r: Reckoned; view: View; flipped: boolean }) {
  const o = r.oiled;
  const under = flipped !== Boolean(board.placement.flip);
  const [x0, y0, x1, y1] = r.box;
  const mid = view.toScreen(out(board.placement, { x: (x0 + x1) / 2, y: (y0 + y1) / 2 }));
  const face = under ? "under face" : "show face";
  const order = o.faces.indexOf(face) + 1;
  return (
    <g className="oiled-told">
      {under &&
        o.stands.map((p, i) => {
          const q = view.toScreen(out(board.placement, p));
          return (
            <path key={i} className="stand-point" d={`M${q.x} ${q.y - 7}l6 11h-12z`}>
              <title>
                {o.dents ? "It stands here: points leave a dent" : "It stands here, where a foot covers the dent"}
              </title>
            </path>
          );
        })}
      <text className="void-told" x={mid.x} y={mid.y} textAnchor="middle">
        {face}: {order === o.faces.length ? "last" : `${order} of ${o.faces.length}`}
      </text>
      <text className="void-told" x={mid.x} y={mid.y + 18} textAnchor="middle">
        {o.coats} of {o.of} {o.of === 1 ? "coat" : "coats"} on
      </text>
    </g>
  );
}
