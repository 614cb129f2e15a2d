// Ways out, as they are found.
import { useEffect, useState } from "react";
import type { WayFound, WayOut, WaysOver } from "../api/client";

export interface Ways {
  ways: WayOut[];
  /** All were tried. */
  over?: WaysOver;
  failed: boolean;
}

const none: Ways = { ways: [], failed: false };

/** useWays listens to a stream of ways out, which stands in its order whatever comes when; none without an address. */
export function useWays(address: string): Ways {
  const [found, setFound] = useState<{ address: string; ways: Ways }>({ address, ways: none });
  useEffect(() => {
    if (!address) return;
    const source = new EventSource(address);
    const set = (next: (was: Ways) => Ways) =>
      setFound((was) => ({ address, ways: next(was.address === address ? was.ways : none) }));
    source.addEventListener("open", () => set(() => none)); // a connection that was lost begins anew
    source.addEventListener("found", (e: MessageEvent<string>) => {
      const { at, way } = JSON.parse(e.data) as WayFound;
      set((was) => ({ ...was, ways: was.ways.toSpliced(at, 0, way) }));
    });
    source.addEventListener("over", (e: MessageEvent<string>) => {
      source.close();
      set((was) => ({ ...was, over: JSON.parse(e.data) as WaysOver }));
    });
    source.addEventListener("failed", () => {
      source.close();
      set((was) => ({ ...was, failed: true }));
    });
    const close = () => source.close();
    window.addEventListener("pagehide", close);
    return () => {
      window.removeEventListener("pagehide", close);
      close();
    };
  }, [address]);
  return found.address === address ? found.ways : none;
}
