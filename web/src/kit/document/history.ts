/** History is a document with its undo and redo. */
export interface History<T> {
  past: T[];
  now: T;
  future: T[];
  /** What the newest change belongs to; changes of one kind in a row are one undo. */
  kind: string;
}

const most = 200;

export const begin = <T>(now: T): History<T> => ({ past: [], now, future: [], kind: "" });

/** change makes a new present; changes of the same kind, such as one drag, join. */
export function change<T>(h: History<T>, now: T, kind = ""): History<T> {
  if (now === h.now) return h;
  if (kind !== "" && kind === h.kind) return { ...h, now, future: [] };
  return { past: [...h.past.slice(-most + 1), h.now], now, future: [], kind };
}

export function undo<T>(h: History<T>): History<T> {
  if (h.past.length === 0) return h;
  return { past: h.past.slice(0, -1), now: h.past[h.past.length - 1], future: [h.now, ...h.future], kind: "" };
}

export function redo<T>(h: History<T>): History<T> {
  if (h.future.length === 0) return h;
  return { past: [...h.past, h.now], now: h.future[0], future: h.future.slice(1), kind: "" };
}

/** settle ends a kind, so that the next change is an undo of its own. */
export const settle = <T>(h: History<T>): History<T> => (h.kind === "" ? h : { ...h, kind: "" });
