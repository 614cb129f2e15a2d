// The presses of this maker on this device, wherever in the shop one is.
import { useQueryClient } from "@tanstack/react-query";
import { createContext, useContext, useEffect, useMemo, type ReactNode } from "react";
import { named } from "../api/asking";
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
      new Presses(localStorage, `idletimber-presses-${email}`, async (press, late) => {
        const { step, event, minutes, note } = press;
        const body = { step, event, minutes, ...note, at: late ? press.at : undefined };
        const asked = { ...named(press.name), params: { path: { id: press.board } }, body };
        if (press.panel) await unwrap(api.POST("/api/pieces/{id}/log", asked));
        else await unwrap(api.POST("/api/boards/{id}/log", asked));
        await client.invalidateQueries();
      }),
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
