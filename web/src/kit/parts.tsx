// The parts of a panel, one of which is open.

/** Parts lets one choose the part of a panel that is open. */
export function Parts<T extends string>({ parts, open, onOpen }: { parts: Record<T, string>; open: T; onOpen: (part: T) => void }) {
  return (
    <div className="parts" role="tablist" aria-label="Parts">
      {(Object.keys(parts) as T[]).map((k) => (
        <button key={k} type="button" role="tab" id={`part-${k}`} aria-selected={open === k} aria-controls="part" onClick={() => onOpen(k)}>
          {parts[k]}
        </button>
      ))}
    </div>
  );
}
