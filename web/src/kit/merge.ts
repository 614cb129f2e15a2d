/** merge applies a JSON merge patch (RFC 7396) without changing the target. */
export function merge<T>(target: T, patch: unknown): T {
  if (typeof patch !== "object" || patch === null || Array.isArray(patch)) return patch as T;
  const out: Record<string, unknown> =
    typeof target === "object" && target !== null && !Array.isArray(target) ? { ...target } : {};
  for (const [key, value] of Object.entries(patch)) {
    if (value === null) delete out[key];
    else out[key] = merge(out[key], value);
  }
  return out as T;
}

type Tree = Record<string, unknown>;

const isTree = (v: unknown): v is Tree => typeof v === "object" && v !== null && !Array.isArray(v);

/** same tells whether two documents hold the same; what is left out is undefined. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((v, i) => same(v, b[i]));
  if (!isTree(a) || !isTree(b)) return false;
  return [...new Set([...Object.keys(a), ...Object.keys(b)])].every((k) => same(a[k], b[k]));
}

/** Where two have changed the same thing, who is followed. */
export type Winner = "mine" | "theirs";

/** byID is a list of things that have ids, as a tree; undefined for other lists. */
function byID(v: unknown): Tree | undefined {
  if (!Array.isArray(v) || !v.every((o) => isTree(o) && typeof o.id === "string")) return undefined;
  return Object.fromEntries((v as { id: string }[]).map((o) => [o.id, o]));
}

/**
 * merge3 joins two changes of one document: what only one has changed is taken from
 * that one. `both` names the places that both have changed, each in its own way.
 */
export function merge3<T>(base: T, mine: T, theirs: T, winner: Winner): { merged: T; both: string[] } {
  const both: string[] = [];
  const join = (b: unknown, m: unknown, t: unknown, at: string): unknown => {
    if (same(m, t) || same(m, b)) return t;
    if (same(t, b)) return m;
    const [lb, lm, lt] = [byID(b), byID(m), byID(t)];
    if (lb && lm && lt) {
      const order = [...new Set([...(t as { id: string }[]), ...(m as { id: string }[])].map((o) => o.id))];
      return order.map((id) => join(lb[id], lm[id], lt[id], `${at}.${nameOf(lm[id] ?? lt[id])}`)).filter(Boolean);
    }
    if (isTree(m) && isTree(t)) {
      const from = isTree(b) ? b : {};
      const keys = [...new Set([...Object.keys(t), ...Object.keys(m)])];
      return Object.fromEntries(keys.map((k) => [k, join(from[k], m[k], t[k], `${at}.${k}`)]));
    }
    both.push(at.slice(1));
    return winner === "mine" ? m : t;
  };
  return { merged: join(base, mine, theirs, "") as T, both };
}

/** nameOf is what a thing of a list is called. */
const nameOf = (v: unknown): string => (isTree(v) && typeof v.name === "string" ? v.name : "an item");

/** inWords is a place in a document for the eye: design.handle.neckLength is "design, handle, neck length". */
export const inWords = (path: string): string =>
  path.replace(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`).replaceAll(".", ", ");
