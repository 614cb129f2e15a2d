// Changes of lists.

/** put changes one item of a list. */
export const put = <T>(list: T[], i: number, part: Partial<T>): T[] =>
  list.map((o, k) => (k === i ? { ...o, ...part } : o));

/** cut takes one item out of a list. */
export const cut = <T>(list: T[], i: number): T[] => list.filter((_, k) => k !== i);
