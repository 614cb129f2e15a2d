// How the server is asked to store something: under a name, so that a question whose
// answer was lost may be asked again and is stored once.

/** The header that names a save. */
const header = "Idempotency-Key";

/** newName names a save: a random UUID, also where the page did not come by HTTPS. */
export function newName(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6] & 0x0f) | 0x40;
  bytes[8] = (bytes[8] & 0x3f) | 0x80;
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
}

/** named gives a request the name of its save. */
export const named = (name: string) => ({ headers: { [header]: name } });

/** What was answered leaves open whether it was stored, or it was and the answer failed. */
async function open(response: Response): Promise<boolean> {
  return response.status >= 500 && /is stored/.test(await response.clone().text());
}

let away = false;
const watchers = new Set<() => void>();

/** isAway tells whether the last question found no server, or one without its database. */
export const isAway = (): boolean => away;

/** onAway calls back when that changes. */
export function onAway(tell: () => void): () => void {
  watchers.add(tell);
  return () => watchers.delete(tell);
}

/** found notes whether the server was there when something was asked of it. */
export function found(there: boolean): void {
  if (away === !there) return;
  away = !there;
  watchers.forEach((tell) => tell());
}

/** ask is fetch that notes whether the server is there. */
async function ask(request: Request): Promise<Response> {
  try {
    const response = await fetch(request);
    found(response.status !== 502 && response.status !== 503 && response.status !== 504);
    return response;
  } catch (error) {
    if (!request.signal.aborted) found(false);
    throw error;
  }
}

/**
 * asking is fetch for a server that may go away between storing and answering: what
 * leaves open whether it was stored is asked again, a few times.
 */
export async function asking(request: Request, waits = [300, 1500, 4000]): Promise<Response> {
  if (request.method === "GET") return ask(request);
  if (!request.headers.has(header)) request.headers.set(header, newName());
  for (const wait of waits) {
    const response = await ask(request.clone());
    if (!(await open(response))) return response;
    await new Promise((done) => setTimeout(done, wait));
  }
  return ask(request);
}
