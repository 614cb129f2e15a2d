// What lists have in common: words to look for, and pages.
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";

const pageSize = 24;

/** useSought keeps the words sought and, after a little quiet, the settled ones. */
export function useSought(first = ""): [string, (v: string) => void, string] {
  const [sought, setSought] = useState(first);
  const [settled, setSettled] = useState(first);
  useEffect(() => {
    const timer = window.setTimeout(() => setSettled(sought), 200);
    return () => window.clearTimeout(timer);
  }, [sought]);
  return [sought, setSought, settled];
}

export function Pages({ total, page, onPage }: { total: number; page: number; onPage: (p: number) => void }) {
  const pages = Math.ceil(total / pageSize);
  if (pages < 2) return null;
  return (
    <nav className="pages" aria-label="Pages">
      <Button size="sm" variant="outline-primary" disabled={page === 0} onClick={() => onPage(page - 1)}>
        Before
      </Button>
      <span>
        Page {page + 1} of {pages}, {total} in all
      </span>
      <Button size="sm" variant="outline-primary" disabled={page + 1 >= pages} onClick={() => onPage(page + 1)}>
        After
      </Button>
    </nav>
  );
}
