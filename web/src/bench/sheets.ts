// The sheets of what is in work, and what may go wrong on it, are fetched before they are opened, so that they are
// there without a signal.
import { useEffect, useEffectEvent } from "react";
import { api, type BenchBoard } from "../api/client";

/** How long the page rests before it fetches them, ms. */
const rest = 10_000;

const fetched = new Set<string>();

/** useSheets fetches the sheets of boards and panels one after another, once in the life of a page. */
export function useSheets(boards: BenchBoard[] | undefined): void {
  const there = boards !== undefined;
  const all = useEffectEvent(async () => {
    for (const { course } of boards ?? []) {
      const { id, kind } = course.subject;
      if (fetched.has(id)) continue;
      const params = { params: { path: { id } } };
      const asked = kind === "panel" ? api.GET("/api/pieces/{id}", params) : api.GET("/api/boards/{id}", params);
      const answer = await asked.catch(() => null);
      if (!answer?.data) return; // the server is away: later
      if (kind === "board") await api.GET("/api/boards/{id}/rescue", params).catch(() => null);
      fetched.add(id);
    }
  });
  useEffect(() => {
    if (!there) return;
    const timer = setTimeout(() => void all(), rest);
    return () => clearTimeout(timer);
  }, [there]);
}
