// The news of a search as it goes on.
import { useEffect, useState } from "react";
import type { SearchNews } from "../api/client";

/** useSearch listens to a search; closing the page lets it go. */
export function useSearch(id: string): SearchNews | null {
  const [news, setNews] = useState<{ id: string; news: SearchNews } | null>(null);
  useEffect(() => {
    if (!id) return;
    const source = new EventSource(`/api/searches/${id}/news`);
    source.addEventListener("news", (e: MessageEvent<string>) => {
      const now = JSON.parse(e.data) as SearchNews;
      setNews({ id, news: now });
      if (now.state !== "waiting" && now.state !== "running") source.close();
    });
    source.addEventListener("over", () => {
      setNews({ id, news: { state: "cancelled", ahead: 0, moves: 0, seconds: 0, proposals: [] } });
      source.close();
    });
    const close = () => source.close();
    window.addEventListener("pagehide", close); // a page that is left may be kept alive by the browser
    return () => {
      window.removeEventListener("pagehide", close);
      close(); // a lost connection opens itself again within the time that the server waits
    };
  }, [id]);
  return news?.id === id ? news.news : null;
}
