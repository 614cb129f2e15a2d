// How the server is asked to store something: under a name, so that a question whose
// answer was lost may be asked again and is stored once.

import { keptAnswers, keptIn, keptMark } from "./kept";

/** The header that names a save. */
const header = "Idempotency-Key";

/** forget drops what this device has kept of a workshop, when its maker goes. */
export async function forget(): Promise<void> {
  await globalThis.caches?.delete(keptIn);
}

/** newName names a save: a random UUID, also where the page did not come by HTTPS. */
export function newName(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(16));
  bytes[6] = (bytes[6] & 0x0f) | 0x40;
  bytes[8] = (bytes[8] & 0x3f) | 0x80;
  const hex = Array.from(bytes, (b) => b.toString(16).padStart(2, "0")).join("");
  return hex.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, "$1-$2-$3-$4-$5");
}

/** The name of this page, by which it knows what it has changed itself. */
export const thisPage = globalThis.crypto ? newName() : "";

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

/** orAway waits for something, but no longer than until the server is away. */
export async function orAway(wait: Promise<unknown>): Promise<void> {
  if (away) return;
  let off = () => {};
  const gone = new Promise<void>((is) => (off = onAway(() => away && is())));
  await Promise.race([wait, gone]);
  off();
}

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

/** keep keeps an answer until the service worker does, which is not there yet at the first visit. */
function keep(request: Request, response: Response): void {
  const worker = globalThis.navigator?.serviceWorker;
  if (request.method !== "GET" || !worker || !keptAnswers.test(new URL(request.url).pathname)) return;
  const copy = response.clone();
  void caches
    .open(keptIn)
    .then((kept) => kept.put(request.url, copy))
    .catch(() => undefined); // a device without room keeps nothing
}

const skewKey = "idletimber-skew";
let skew = Number(globalThis.localStorage?.getItem(skewKey) ?? 0);

/**
 * serverNow is what time it is at the server, ms, also while it is away: by its last answer, and never before what it
 * has noted of what was sent from here.
 */
export const serverNow = (): number => Date.now() + skew;

/**
 * setClock sets this device's clock right by an answer to what was asked at a moment. What it was set to stands as long
 * as it may be right, so that it does not waver with how long answers take.
 */
function setClock(response: Response, asked: number): void {
  const there = new Date(response.headers.get("X-Now") ?? NaN).getTime();
  if (Number.isNaN(there)) return;
  const least = there - Date.now();
  const most = there - asked;
  if (skew >= least && skew <= most) return;
  skew = most;
  globalThis.localStorage?.setItem(skewKey, String(skew));
}

/** ask is fetch that notes whether the server is there, and what time it is there. */
async function ask(request: Request): Promise<Response> {
  const asked = Date.now();
  const controlled = Boolean(globalThis.navigator?.serviceWorker?.controller);
  try {
    const response = await fetch(request);
    const old = response.headers.get(keptMark) !== null; // an answer that this device has kept
    found(!old && response.status !== 502 && response.status !== 503 && response.status !== 504);
    if (!old) setClock(response, asked);
    if (response.ok && !controlled) keep(request, response);
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
  request.headers.set("X-Page", thisPage);
  for (const wait of waits) {
    const response = await ask(request.clone());
    if (!(await open(response))) return response;
    await new Promise((done) => setTimeout(done, wait));
  }
  return ask(request);
}
