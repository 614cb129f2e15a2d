// Fields in which something stands that cannot be taken: what was typed there is not
// left behind unasked.
import { useEffect } from "react";

const open = new Set<object>();

/** mistyped reports whether any field holds what cannot be taken. */
export const mistyped = (): boolean => open.size > 0;

/** useMistyped notes a field as long as something is wrong with it. */
export function useMistyped(wrong: string): void {
  const isWrong = wrong !== "";
  useEffect(() => {
    if (!isWrong) return;
    const field = {};
    open.add(field);
    return () => void open.delete(field);
  }, [isWrong]);
}
