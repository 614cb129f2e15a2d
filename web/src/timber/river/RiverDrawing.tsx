// The mould seen from above, with its banks; and cut across.
import type { ReactNode } from "react";
import type { OfRiver, River, Slab, Wood } from "../../api/client";
import { Dimension, WoodDrawing, pen, type View } from "../../kit/drawing";
import { useWorkshop } from "../../kit/workshop";
import type { useBanks } from "./useBanks";

interface Props {
  slab: Slab;
  wood: Wood;
  of: OfRiver;
  flipped: boolean;
  picked: string;
  on: ReturnType<typeof useBanks>;
  children: (view: View) => ReactNode;
}

export const keys = "n picks the next bank, arrow keys nudge it, square brackets turn it.";

export function RiverDrawing({ slab, wood, of, flipped, picked, on, children }: Props) {
  const { length } = useWorkshop();
  const half = slab.river!.width / 2;
  return (
    <WoodDrawing
      wood={wood}
      name={slab.name}
      flipped={flipped}
      marking
      label={`The mould of ${slab.name} from above. ${keys}`}
      onKeyDown={on.onKeyDown}
      pointer={on.pointer}
      boards={of.banks.map((b) => (
        <g key={b.id}>
          <path className="bank-under" d={b.under} {...pen} />
          <path className={`bank ${picked === b.id ? "is-picked" : ""}`} data-bank={b.id} d={b.path} {...pen}>
            <title>{b.name}</title>
          </path>
        </g>
      ))}
    >
      {(view) => (
        <>
          <Dimension
            from={view.toScreen({ x: 0, y: -half })}
            to={view.toScreen({ x: 0, y: half })}
            text={length(slab.river!.width)}
            off={-16}
          />
          {of.widths.map((w, i) => {
            const x = (wood.length * i) / 4;
            const at = view.toScreen({ x: Math.min(Math.max(x, wood.length * 0.03), wood.length * 0.97), y: 0 });
            return (
              <text key={i} className="gap-width" x={at.x} y={at.y} textAnchor="middle" dominantBaseline="central">
                {length(w)}
              </text>
            );
          })}
          {children(view)}
        </>
      )}
    </WoodDrawing>
  );
}

/** Across is the mould cut across its middle: walls, base, banks, resin to its mark. */
export function Across({ river: r, of }: { river: River; of: OfRiver }) {
  const { length } = useWorkshop();
  const [wide, wall, high] = [r.width, r.wall, of.mould.height];
  const left = -wall;
  return (
    <svg
      className="mould-across"
      viewBox={`${left - 4} -8 ${wide + 2 * wall + 8} ${high + wall + 16}`}
      role="img"
      aria-label={`The mould cut across: walls ${length(high)} high, resin ${length(r.depth)} deep`}
    >
      <g className="mould-sheet">
        <rect x={left} y={high} width={wide + 2 * wall} height={wall} />
        <rect x={left} y={0} width={wall} height={high} />
        <rect x={wide} y={0} width={wall} height={high} />
      </g>
      <rect x={0} y={high - r.depth} width={wide} height={r.depth} fill={of.tone.hue} fillOpacity={0.75} />
      {of.across.map((b, i) => (
        <polygon
          key={i}
          className="mould-bank"
          fill={b.light}
          stroke={b.dark}
          points={b.ring.map((p) => `${p.x + wide / 2},${high - p.y}`).join(" ")}
        />
      ))}
      {!r.covered && <path className="mould-tape" d={`M0 0V${high}H${wide}V0`} />}
      <text className="mould-mark" x={wide / 2} y={high - r.depth - 2} textAnchor="middle">
        {length(r.depth)}
      </text>
    </svg>
  );
}

/** OnSheet are the parts of the mould where they are cut from the sheet. */
export function OnSheet({ of }: { of: OfRiver }) {
  const { length } = useWorkshop();
  const m = of.mould;
  if (!m.sheet || !m.length || !m.width) return null;
  return (
    <figure className="mould-sheet-plan">
      <svg
        viewBox={`-4 -4 ${m.length + 8} ${m.width + 8}`}
        role="img"
        aria-label={`The parts of the mould on ${m.sheet}: ${m.parts.map((p) => p.name).join(", ")}`}
      >
        <rect className="sheet-whole" width={m.length} height={m.width} />
        {m.parts.map((p, i) => {
          const [w, h] = p.turned ? [p.width, p.length] : [p.length, p.width];
          return (
            <g key={i}>
              <rect className="sheet-part" x={p.at.x} y={p.at.y} width={w} height={h} />
              <text
                className="sheet-name"
                x={p.at.x + w / 2}
                y={p.at.y + h / 2}
                fontSize={Math.max(12, m.length! / 45)}
                textAnchor="middle"
                dominantBaseline="central"
              >
                {p.name} {length(p.length)} × {length(p.width)}
              </text>
            </g>
          );
        })}
      </svg>
      <figcaption className="facts">Cut from {m.sheet}.</figcaption>
    </figure>
  );
}
