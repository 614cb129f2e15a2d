// What the server tells this page as it happens: readings, and that something was changed by another page. One line,
// to whichever process is there; it opens itself again. A page that nobody sees has none: a browser has few lines to a
// server, and many pages may be open.
import type { QueryClient } from "@tanstack/react-query";
import { thisPage } from "../api/asking";
import type { MeterReading } from "../api/client";

interface News {
  reading: (r: MeterReading) => void;
  changed: (by: string) => void;
  listening: (yes: boolean) => void;
}

let source: EventSource | null = null;
let open = false;
const hearers = new Set<Partial<News>>();

function listen(): EventSource {
  const s = new EventSource("/api/news");
  const told = (yes: boolean) => {
    if (yes && !open) hearers.forEach((h) => h.changed?.("")); // who knows what was missed
    open = yes;
    hearers.forEach((h) => h.listening?.(yes));
  };
  s.addEventListener("open", () => told(true));
  s.addEventListener("error", () => {
    told(false);
    if (s.readyState !== EventSource.CLOSED) return; // it opens itself again
    source = null;
    hearers.forEach((h) => h.changed?.("")); // it was refused: whoever reads again learns why
    setTimeout(follow, again);
  });
  s.addEventListener("reading", (e: MessageEvent<string>) => {
    const r = JSON.parse(e.data) as MeterReading;
    hearers.forEach((h) => h.reading?.(r));
  });
  s.addEventListener("changed", (e: MessageEvent<string>) => {
    const { by } = JSON.parse(e.data) as { by: string };
    hearers.forEach((h) => h.changed?.(by));
  });
  return s;
}

/** How long a server is waited for that refused the line, ms. */
const again = 5000;

/** follow opens the line while somebody hears and sees, and closes it otherwise. */
function follow(): void {
  if (hearers.size > 0 && !document.hidden) {
    source ??= listen();
    return;
  }
  source?.close();
  source = null;
  open = false;
  hearers.forEach((h) => h.listening?.(false));
}

/** hear has somebody told what happens, until the returned function is called. */
export function hear(who: Partial<News>): () => void {
  if (hearers.size === 0) document.addEventListener("visibilitychange", follow);
  hearers.add(who);
  follow();
  who.listening?.(open);
  return () => {
    hearers.delete(who);
    if (hearers.size > 0) return;
    document.removeEventListener("visibilitychange", follow);
    follow();
  };
}

/** What is read again when another page has changed something: lists and plans. What is being worked at is not. */
const followed = new Set([
  "bench",
  "boards",
  "instruments",
  "log",
  "occasions",
  "people",
  "pieces",
  "plan",
  "prices",
  "rescue",
  "run",
  "runs",
  "savings",
  "shelf",
  "templates",
  "trials",
]);

/** Changes of others that come close together are read once, ms. */
const gather = 500;

/** followOthers keeps lists and plans as they are while others change them, until the returned function is called. */
export function followOthers(client: QueryClient): () => void {
  let waits: ReturnType<typeof setTimeout> | undefined;
  let heard = false;
  const off = hear({
    changed: (by) => {
      const first = by === "" && !heard; // the line was opened: what is shown was just read
      heard = true;
      if (by === thisPage || first) return;
      waits ??= setTimeout(() => {
        waits = undefined;
        void client.invalidateQueries({ predicate: (q) => followed.has(String(q.queryKey[0])) });
      }, gather);
    },
  });
  return () => {
    clearTimeout(waits);
    off();
  };
}
