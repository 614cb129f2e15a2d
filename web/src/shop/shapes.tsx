// Bits, blades and drums as they look, all to one scale, so that they are told apart at a glance.
import type { Bit, Blade, RouterBit } from "../api/client";

/** Pixels a millimetre. */
const scale = 0.8;

/** Figure frames a drawing so wide and high, in millimetres. */
function Figure({ wide, high, children }: { wide: number; high: number; children: React.ReactNode }) {
  return (
    <svg
      className="tool-shape"
      width={Math.max(wide * scale, 14)}
      height={high * scale}
      viewBox={`${-wide / 2} 0 ${wide} ${high}`}
      aria-hidden="true"
    >
      {children}
    </svg>
  );
}

export function BitShape({ kind, diameter: d, length: l }: Bit) {
  const r = d / 2;
  const shank = Math.min(5, r);
  const high = Math.min(l, 110);
  const head =
    kind === "forstner" || kind === "spade" || kind === "hole saw" ? Math.min(kind === "hole saw" ? 35 : 14, high) : 0;
  return (
    <Figure wide={Math.max(d, 10) + 2} high={high + 6}>
      {head > 0 ? (
        <>
          <rect x={-shank} y={0} width={2 * shank} height={high - head} />
          <rect x={-r} y={high - head} width={d} height={head} />
          <path d={`M-2 ${high}L0 ${high + 5}L2 ${high}z`} />
        </>
      ) : kind === "countersink" ? (
        <path d={`M${-shank} 0H${shank}V${high * 0.6}H${r}L0 ${high}L${-r} ${high * 0.6}H${-shank}z`} />
      ) : (
        <path d={`M${-r} 0H${r}V${high}L0 ${high + 4}L${-r} ${high}z`} />
      )}
    </Figure>
  );
}

export function RouterBitShape({ kind, diameter: d, length: l, bearing = 0, shank = 6 }: RouterBit) {
  const r = d / 2;
  const s = (shank || 6) / 2;
  const up = 26;
  const wide = Math.max(d + (kind === "round-over" ? 2 * bearing : 0), bearing, 2 * s) + 2;
  const b = bearing / 2;
  const body: Record<string, string> = {
    "round nose": `M${-r} ${up}H${r}V${up + l - r}A${r} ${r} 0 0 1 ${-r} ${up + l - r}z`,
    "round-over":
      `M${-b - r} ${up}H${b + r}V${up + 3}A${r} ${r} 0 0 0 ${b} ${up + 3 + r}H${-b}` +
      `A${r} ${r} 0 0 0 ${-b - r} ${up + 3}z`,
    chamfer: `M${-r} ${up}H${r}V${up + 2}L${b} ${up + l}H${-b}L${-r} ${up + 2}z`,
  };
  return (
    <Figure wide={wide} high={up + l + (bearing > 0 ? 7 : 2)}>
      <rect x={-s} y={0} width={2 * s} height={up} className="shank" />
      <path d={body[kind] ?? `M${-r} ${up}H${r}V${up + l}H${-r}z`} />
      {bearing > 0 && <rect x={-b} y={up + l + 1} width={bearing} height={5} className="bearing" />}
    </Figure>
  );
}

export function BladeShape({ width = 6, radius }: Blade) {
  const w = width || 6;
  const r = Math.min(radius, 80);
  const high = Math.max(r, 30);
  return (
    <Figure wide={r + 34} high={high + 2}>
      <rect x={-(r + 34) / 2 + 1} y={0} width={w} height={high} />
      <path
        className="turn"
        d={`M${-(r + 34) / 2 + 30} ${high}A${r} ${r} 0 0 1 ${-(r + 34) / 2 + 30 + r} ${high - r}`}
        fill="none"
      />
    </Figure>
  );
}

export function RoundShape({ radius, hollow = false }: { radius: number; hollow?: boolean }) {
  return (
    <Figure wide={2 * radius + 2} high={2 * radius + 2}>
      <circle cx={0} cy={radius + 1} r={radius} className={hollow ? "hollow" : undefined} />
    </Figure>
  );
}
