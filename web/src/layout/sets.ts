// Boards that are laid as one: those of a set, and what a proposal makes of them.
import type { Board, Placed, Want } from "../api/client";

/** together are the boards that move with one: those that it must mate with, and theirs. */
export function together(boards: Board[], id: string): Set<string> {
  const all = new Set([id]);
  for (let grew = true; grew; ) {
    grew = false;
    for (const b of boards) {
      const mates = (b.mates ?? []).map((m) => m.board);
      const linked = all.has(b.id) || mates.some((m) => all.has(m));
      for (const m of linked ? [b.id, ...mates] : []) {
        if (!all.has(m) && boards.some((o) => o.id === m)) {
          all.add(m);
          grew = true;
        }
      }
    }
  }
  return all;
}

/** copyOf is a new board like another, beside it. */
export function copyOf(b: Board, name: string, more: Partial<Board> = {}): Board {
  return { ...b, id: crypto.randomUUID(), name, mates: undefined, twin: undefined, locked: false, ...more };
}

/** Wanted is a wish, with the boards of the slab that it is drawn from; it moves them, or lays others like them. */
export interface Wanted {
  want: Want;
  from: Board[];
  moves: boolean;
}

/** wantOf asks for boards, laid as one. */
export function wantOf(from: Board[], moves = false): Wanted {
  const [board, ...others] = from.map((b) => ({ ...b, mates: undefined, twin: undefined }));
  const want: Want = { board, least: 1, most: moves ? 1 : 4, turn: true, twin: Boolean(from[0].twin) };
  if (others.length > 0) want.with = others;
  return { want, from, moves };
}

/** setOf lists a board with those that it must mate with, itself first. */
export function setOf(boards: Board[], id: string): Board[] {
  const ids = together(boards, id);
  return [...boards.filter((b) => b.id === id), ...boards.filter((b) => ids.has(b.id) && b.id !== id)];
}

/**
 * laidBy are the boards of a proposal: those that it moves, and new ones, which mate
 * and have twins as those do that they are like.
 */
export function laidBy(placed: Placed[], asked: Wanted[], partner: string): Board[] {
  const laid: Board[] = [];
  const sets = new Map<number, number>(); // by what is wanted
  let ids: string[] = [];
  for (const p of placed) {
    const { want, from, moves } = asked[p.want];
    const part = p.part ?? 0;
    if (part === 0) {
      sets.set(p.want, (sets.get(p.want) ?? 0) + 1);
      ids = from.map((b) => (moves ? b.id : crypto.randomUUID()));
    }
    const was = from[part];
    const where = { design: p.design, placement: p.placement };
    const twin =
      want.twin && partner
        ? { twin: was.twin && moves ? was.twin : { board: crypto.randomUUID(), piece: partner } }
        : {};
    if (moves) {
      laid.push({ ...was, ...where, ...twin });
      continue;
    }
    const name = want.most > 1 ? `${was.name} ${sets.get(p.want)}` : was.name;
    const mates = (was.mates ?? []).flatMap((m) => {
      const k = from.findIndex((b) => b.id === m.board);
      return k < 0 ? [] : [{ ...m, board: ids[k] }];
    });
    laid.push({ ...copyOf(was, name, where), id: ids[part], ...twin, ...(mates.length > 0 ? { mates } : {}) });
  }
  return laid;
}
