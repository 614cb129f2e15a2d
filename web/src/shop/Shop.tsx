// The shop: its house and hours, tools, drawers, rules of thumb, instruments, and who works in it.
import { named } from "../api/asking";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { useSearchParams } from "react-router";
import { api, storing, unwrap, type Shop } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { editor, useDocument, useUndoKeys } from "../kit/document/useDocument";
import { Parts } from "../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { useWorkshop } from "../kit/workshop";
import { Account } from "./Account";
import { Drawers } from "./Drawers";
import { OwnSpecies } from "./OwnSpecies";
import { Languages } from "./Languages";
import { Rates } from "./Rates";
import { Rules } from "./Rules";
import { DaysOff, Helpers, OnOrder } from "./Hours";
import { Climate, HandOf, House, Meter, Sessions } from "./sections";
import { Tools } from "./Tools";

export default function ShopPlace() {
  const shop = useQuery({ queryKey: ["shop", "edit"], queryFn: () => unwrap(api.GET("/api/shop")), gcTime: 0 });
  const arrived = useArrived(shop);
  if (!arrived) return <Away of={shop} />;
  return <Editor shop={arrived.shop} version={arrived.version} />;
}

const parts = {
  house: "House and hours",
  tools: "Tools",
  drawers: "Drawers",
  rules: "Rules of thumb",
  instruments: "Instruments",
  you: "You",
} as const;
type Part = keyof typeof parts;

function Editor({ shop, version }: { shop: Shop; version: number }) {
  const { shop: newest, version: newestVersion } = useWorkshop();
  const client = useQueryClient();
  const [search, setSearch] = useSearchParams();
  const part = (search.get("part") ?? "house") as Part;
  const d = useDocument<Shop, null>({
    name: "shop",
    doc: shop,
    version,
    result: null,
    draft: () => Promise.resolve(null),
    save: async (doc, v, name) => {
      const saved = await storing(api.PUT("/api/shop", { ...named(name), body: { version: v, shop: doc } }));
      if ("stored" in saved) return saved;
      client.setQueryData(["shop"], saved.data);
      void client.invalidateQueries({ queryKey: ["bench"] });
      void client.invalidateQueries({ queryKey: ["savings"] });
      return { version: saved.data.version };
    },
    // The rail switches units too.
    newest: useMemo(() => ({ doc: newest, version: newestVersion }), [newest, newestVersion]),
  });
  useUndoKeys(d);
  const s = d.doc;
  const set = editor(d);
  return (
    <div className="sheet-page shop">
      <header className="page-head">
        <h1>Shop</h1>
        <SaveMark doc={d} />
        <UndoButtons doc={d} />
      </header>
      <SaveNotice doc={d} />
      <Parts parts={parts} open={part} onOpen={(p) => setSearch({ part: p }, { replace: true })} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`} className="shop-part">
        {part === "house" && (
          <div className="shop-columns">
            <House shop={s} set={set} />
            <Sessions shop={s} set={set} />
            <Helpers shop={s} set={set} />
            <DaysOff shop={s} set={set} />
            <Rates shop={s} set={set} />
            <Languages shop={s} set={set} />
            <OnOrder shop={s} set={set} />
            <HandOf shop={s} set={set} />
            <Climate shop={s} set={set} />
            <section>
              <h2>Your own species</h2>
              <OwnSpecies list={s.species ?? []} onChange={(species) => set({ species }, "species")} />
            </section>
          </div>
        )}
        {part === "tools" && <Tools shop={s} set={set} />}
        {part === "drawers" && <Drawers shop={s} set={set} />}
        {part === "rules" && <Rules shop={s} set={set} />}
        {part === "instruments" && (
          <div className="shop-columns">
            <Meter shop={s} set={set} />
          </div>
        )}
        {part === "you" && (
          <div className="shop-columns">
            <Account />
          </div>
        )}
      </div>
    </div>
  );
}
