import { useEffect } from "react";

const names = new Map<number, string>();

function show(): void {
  const deepestFirst = [...names].sort(([a], [b]) => b - a).map(([, name]) => name);
  document.title = [...deepestFirst, "Idle Timber"].join(" · ");
}

/** useTitle names the tab as long as it is shown; what lies deeper comes first. */
export function useTitle(name: string, depth = 0): void {
  useEffect(() => {
    if (name === "") return;
    names.set(depth, name);
    show();
    return () => {
      names.delete(depth);
      show();
    };
  }, [name, depth]);
}
