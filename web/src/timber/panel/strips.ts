// Strips of a panel, taken up and laid down elsewhere.
import type { Panel, Strip } from "../../api/client";

/** moved is a list with one of its items at another place. */
export function moved<T>(list: T[], from: number, to: number): T[] {
  const at = Math.max(0, Math.min(list.length - 1, to));
  if (from === at || from < 0 || from >= list.length) return list;
  const out = [...list];
  out.splice(at, 0, ...out.splice(from, 1));
  return out;
}

/** freshId is an id that no strip of the panel has. */
export function freshId(p: Panel): string {
  const used = new Set([...p.strips, ...(p.spares ?? [])].map((s) => s.id));
  for (let i = used.size + 1; ; i++) if (!used.has(`s${i}`)) return `s${i}`;
}

/** doubled is the panel with a strip twice, the other to be bought. */
export function doubled(p: Panel, i: number): Panel {
  const bought = { piece: undefined, problem: undefined, flaws: undefined };
  const strips = [...p.strips];
  strips.splice(i + 1, 0, { ...p.strips[i], ...bought, id: freshId(p) });
  return { ...p, strips };
}

/** without is the panel with a strip left out; the last one stays. */
export function without(p: Panel, i: number): Panel {
  return p.strips.length > 1 ? { ...p, strips: p.strips.filter((_, k) => k !== i) } : p;
}

/** swapped is the panel with a strip in the place of a spare one. */
export function swapped(p: Panel, i: number, spare: number): Panel {
  const spares = [...(p.spares ?? [])];
  const strips = [...p.strips];
  [strips[i], spares[spare]] = [{ ...spares[spare], along: strips[i].along }, strips[i]];
  return { ...p, strips, spares };
}

/** changed is the panel with something of a strip otherwise. */
export function changed(p: Panel, i: number, part: Partial<Strip>): Panel {
  return { ...p, strips: p.strips.map((s, k) => (k === i ? { ...s, ...part } : s)) };
}
