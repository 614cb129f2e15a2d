// What was typed while the server was away, kept on this device until it is read:
// a page may be opened anew meanwhile.
const shelf = "idletimber-typed";

type Kept = Record<string, string>;

const all = (): Kept => JSON.parse(sessionStorage.getItem(shelf) ?? "{}") as Kept;

/** keep keeps what was typed into a field, by the field's name; nothing forgets it. */
export function keep(name: string, typed: string | null): void {
  const kept = all();
  if (typed === null && !(name in kept)) return;
  if (typed === null) delete kept[name];
  else kept[name] = typed;
  sessionStorage.setItem(shelf, JSON.stringify(kept));
}

/** keptOf is what was typed into a field and not read yet. */
export const keptOf = (name: string): string | null => all()[name] ?? null;
