// Pieces that panels share: their parts, of which one is open, short tables, and what went wrong.
import type { ReactNode } from "react";
import { say } from "../api/client";

/** Parts lets one choose the part of a panel that is open. */
export function Parts<T extends string>({
  parts,
  open,
  onOpen,
}: {
  parts: Record<T, string>;
  open: T;
  onOpen: (part: T) => void;
}) {
  return (
    <div className="parts" role="tablist" aria-label="Parts">
      {(Object.keys(parts) as T[]).map((k) => (
        <button
          key={k}
          type="button"
          role="tab"
          id={`part-${k}`}
          aria-selected={open === k}
          aria-controls="part"
          onClick={() => onOpen(k)}
        >
          {parts[k]}
        </button>
      ))}
    </div>
  );
}

/** Amounts is a short table of words and numbers. */
export function Amounts({ rows }: { rows: [ReactNode, ReactNode][] }) {
  return (
    <dl className="amounts">
      {rows.map(([k, v], i) => (
        <div key={i}>
          <dt>{k}</dt>
          <dd>{v}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Wrong is what went wrong, said aloud; nothing while nothing did. */
export function Wrong({ error }: { error: unknown }) {
  if (!error) return null;
  return (
    <p className="wrong" role="alert">
      {say(error)}
    </p>
  );
}
