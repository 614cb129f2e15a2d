// The presses of this maker on this device, wherever in the shop one is.
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useMemo, type ReactNode } from "react";
import { named, orAway } from "../api/asking";
import { api, unwrap } from "../api/client";
import { Presses } from "./presses";

const Kept = createContext<Presses | null>(null);

export function usePresses(): Presses {
  const presses = useContext(Kept);
  if (!presses) throw new Error("outside the workshop");
  return presses;
}

/** PressesKept sends what was kept as soon as the server is there, whichever place is open. */
export function PressesKept({ email, children }: { email: string; children: ReactNode }) {
  const client = useQueryClient();
  const presses = useMemo(
    () =>
      new Presses(
        localStorage,
        `idletimber-presses-${email}`,
        async (press, late) => {
          const { step, event, minutes, note, ago } = press;
          const body = { step, event, minutes, ...note, at: press.at, ago, late };
          const asked = { ...named(press.name), params: { path: { id: press.board } }, body };
          if (press.run) {
            const { id, steps } = press.run;
            const of = { ...named(press.name), params: { path: { id } } };
            const body = { steps, event: event as "start", minutes, at: press.at, late };
            return (await unwrap(api.POST("/api/runs/{id}/press", { ...of, body }))).line;
          }
          if (press.panel) return (await unwrap(api.POST("/api/pieces/{id}/press", asked))).line;
          return (await unwrap(api.POST("/api/boards/{id}/press", asked))).line;
        },
        () => orAway(client.invalidateQueries()),
      ),
    [client, email],
  );
  useEffect(() => {
    const flush = () => void presses.flush();
    flush();
    window.addEventListener("online", flush);
    return () => window.removeEventListener("online", flush);
  }, [presses]);
  return <Kept value={presses}>{children}</Kept>;
}
