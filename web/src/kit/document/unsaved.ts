// What was changed and not stored when its page was closed, kept on this device
// until the server has it.

/** Unsaved is a document as it was changed, and what it was changed from. */
export interface Unsaved<T> {
  base: T;
  version: number;
  doc: T;
}

/** Where it is kept; localStorage fits. */
export type Shelf = Pick<Storage, "getItem" | "setItem" | "removeItem">;

let owner = "";
let found: readonly string[] = [];
const listeners = new Set<() => void>();

const shelfOf = () => `idletimber-unsaved-${owner}-`;
const key = (name: string): string => shelfOf() + name;

/** keepFor names the account whose documents are kept: others on this device do not see them. */
export function keepFor(email: string, there: readonly string[] = Object.keys(globalThis.localStorage ?? {})): void {
  if (email === owner) return;
  owner = email;
  found = there.filter((k) => k.startsWith(shelfOf())).map((k) => k.slice(shelfOf().length));
}

/** leftover are the names of what was kept when the page was opened, and is not stored yet. */
export const leftover = (): readonly string[] => found;

export function onLeftover(listener: () => void): () => void {
  listeners.add(listener);
  return () => listeners.delete(listener);
}

/** keepUnsaved keeps a document by its name; nothing forgets it. */
export function keepUnsaved(name: string, work: Unsaved<unknown> | null, shelf: Shelf = localStorage): void {
  if (work === null) {
    shelf.removeItem(key(name));
    found = found.filter((o) => o !== name);
    listeners.forEach((tell) => tell());
    return;
  }
  try {
    shelf.setItem(key(name), JSON.stringify(work));
  } catch {
    // The device has no room: the page warns before it is closed.
  }
}

/** unsavedOf is what is kept of a document. */
export function unsavedOf<T>(name: string, shelf: Shelf = localStorage): Unsaved<T> | null {
  const kept = shelf.getItem(key(name));
  return kept === null ? null : (JSON.parse(kept) as Unsaved<T>);
}
