// What every place needs to know of the workshop: its units, zone and tables.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, useCallback, useContext, useDeferredValue, useMemo, type ReactNode } from "react";
import { api, unwrap, type Shop, type Tables } from "../api/client";
import { changeShop } from "./keeping";
import { showLength, showTime, type Unit } from "./length";
import { scaleOf, showText, showValue, type Scale } from "./units";

interface Workshop {
  shop: Shop;
  /** Of the shop's document as it was last read or stored. */
  version: number;
  tables: Tables;
  unit: Unit;
  length: (mm: number) => string;
  value: (value: number, of: string) => string;
  /** How values of a metric unit are entered. */
  scale: (of: string) => Scale;
  /** Shows a text of the rules, with its values in the units in force. */
  words: (text: string) => string;
  /** Between what a number may lie; without a path, anywhere. */
  range: (of?: string) => { least: number; most: number };
  time: (at: string, withTime?: boolean) => string;
  switchUnits: () => void;
}

const anywhere = { least: -Infinity, most: Infinity };

/** rangeOf finds the range at a path, whose first word is the document. */
function rangeOf(ranges: Tables["ranges"], of = "") {
  const [document, ...path] = of.split(".");
  return ranges[document]?.[path.join(".")] ?? anywhere;
}

const Context = createContext<Workshop | null>(null);

export function useWorkshop(): Workshop {
  const w = useContext(Context);
  if (!w) throw new Error("outside the workshop");
  return w;
}

export function WorkshopProvider({ children }: { children: ReactNode }) {
  const client = useQueryClient();
  const shop = useQuery({ queryKey: ["shop"], queryFn: () => unwrap(api.GET("/api/shop")) });
  const tables = useQuery({ queryKey: ["tables"], queryFn: () => unwrap(api.GET("/api/tables")), staleTime: Infinity });
  const switchUnits = useCallback(
    () => changeShop(client, (now) => ({ units: now.units === "mm" ? "in" : "mm" })),
    [client],
  );
  const workshop = useMemo(() => {
    if (!shop.data || !tables.data) return null;
    const { shop: s, version } = shop.data;
    return {
      shop: s,
      version,
      tables: tables.data,
      unit: s.units,
      length: (mm: number) => showLength(mm, s.units),
      value: (value: number, of: string) => {
        const shown = showValue(value, of, s);
        return of === "cents" && s.money?.sign ? `${shown} ${s.money.sign}` : shown;
      },
      scale: (of: string) => scaleOf(of, s),
      words: (text: string) => showText(text, s),
      time: (at: string, withTime = true) => showTime(at, s.timeZone, withTime),
      range: (of?: string) => rangeOf(tables.data.ranges, of),
      switchUnits: () => void switchUnits(),
    };
  }, [shop.data, tables.data, switchUnits]);
  const arrived = useDeferredValue(workshop, null); // the first drawing may take its time
  if (!arrived)
    return <p className="p-4">{shop.isError ? "The server does not answer. Trying again." : "Opening the shop"}</p>;
  return <Context.Provider value={arrived}>{children}</Context.Provider>;
}
