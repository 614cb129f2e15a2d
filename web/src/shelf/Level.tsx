/** Level draws how full a pack is, as one sees it through the side of a jar; more than one pack is a full one. */
export function Level({ of, short, label }: { of: number; short: boolean; label: string }) {
  const full = 32;
  const high = full * Math.min(1, Math.max(0, of));
  return (
    <svg className={`level-jar ${short ? "is-short" : ""}`} viewBox="0 0 24 44" role="img" aria-label={label}>
      <rect className="fill" x={4} y={6 + full - high} width={16} height={high} rx={1} />
      <path className="jar" d="M8 2h8v4h4v32H4V6h4z" />
    </svg>
  );
}
