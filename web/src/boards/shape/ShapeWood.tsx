// The board as the wood that it is cut from, in the board's frame.
import classNames from "classnames";
import { memo, useMemo } from "react";
import type { Board, Photo, Reckoned, Wood } from "../../api/client";
import { Ground, pen, toned, type Tones } from "../../kit/drawing";
import { grain, seedOf } from "../../kit/grain";

interface Props {
  board: Board;
  r: Reckoned;
  wood: Wood;
  slabName: string;
  /** The board is seen from its under face. */
  flipped: boolean;
  ground?: Photo;
}

/** ShapeWood is the board's solid: its wood with the flaws, and what is cut into its faces. */
export function ShapeWood({ board, r, wood, slabName, flipped, ground }: Props) {
  const place = board.placement;
  const toSlab = `scale(1 ${place.flip ? -1 : 1}) rotate(${-place.angle}) translate(${-place.x} ${-place.y})`;
  const filled = useMemo(
    () => Object.fromEntries(r.voids.flatMap((v) => (v.tone ? [[v.flaw, v.tone]] : []))),
    [r.voids],
  );
  const solid = [r.path, ...r.holes].join("");
  const edge = Math.max(board.design.edge.kind === "none" ? 0 : board.design.edge.size, 0.6);
  const [x0, y0, x1, y1] = r.box;
  const s = r.shape;
  const narrowSeen = s.narrow && flipped === Boolean(board.design.wideUnder);
  return (
    <>
      <defs>
        <clipPath id="shape-clip">
          <path d={solid} clipRule="evenodd" />
        </clipPath>
      </defs>
      <g clipPath="url(#shape-clip)">
        <rect x={x0 - 5} y={y0 - 5} width={x1 - x0 + 10} height={y1 - y0 + 10} fill={wood.species.light} />
        <WoodUnder
          wood={wood}
          slabName={slabName}
          toSlab={toSlab}
          under={flipped !== place.flip}
          ground={ground}
          filled={filled}
        />
        {s.recesses.map((c, i) => (
          <path
            key={i}
            d={c.path}
            fillRule="evenodd"
            className={`recess ${c.under !== flipped ? "is-hidden" : ""}`}
            {...pen}
          />
        ))}
        {narrowSeen && <path d={s.narrow} className="narrow-line" {...pen} />}
        <path d={solid} fill="none" className="edge-shade" strokeWidth={2 * edge} />
      </g>
    </>
  );
}

interface UnderProps {
  wood: Wood;
  slabName: string;
  toSlab: string;
  /** Which face of the slab is seen. */
  under: boolean;
  ground?: Photo;
  filled: Tones;
}

/** WoodUnder is the slab's wood with its flaws. */
const WoodUnder = memo(function WoodUnder({ wood, slabName, toSlab, under, ground, filled }: UnderProps) {
  const { species, length, minY, maxY } = wood;
  const lines = useMemo(
    () => grain(seedOf(slabName + species.name), 0, length, minY, maxY),
    [slabName, species.name, length, minY, maxY],
  );
  return (
    <g transform={toSlab}>
      {ground ? (
        <Ground photo={ground} flipped={under} />
      ) : (
        lines.map((l, i) => (
          <path key={i} d={l.d} fill="none" stroke={species.dark} strokeWidth={l.width} opacity={l.strength} />
        ))
      )}
      {wood.flaws.map((f) => {
        return (
          <path
            key={f.id}
            d={f.under === under ? f.path : (f.other ?? f.path)}
            className={classNames("flaw", `flaw-${f.kind}`, {
              "flaw-hidden": f.under !== under && !f.other,
              "flaw-filled": filled[f.id],
            })}
            style={toned(filled[f.id])}
            pointerEvents="none"
            {...pen}
          />
        );
      })}
    </g>
  );
});
