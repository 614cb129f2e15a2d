// The shop: its units, air, hours, machines, drawers and rules of thumb.
import { named } from "../api/asking";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import { api, storing, unwrap, type Shop } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { editor, useDocument, useUndoKeys } from "../kit/document/useDocument";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { useWorkshop } from "../kit/workshop";
import { Account } from "./Account";
import { OwnSpecies } from "./OwnSpecies";
import { RouterTools } from "./RouterTools";
import { Clamps } from "./Clamps";
import { Climate, Drawers, House, Machines, Meter, Rules, Sessions } from "./sections";

export default function ShopPlace() {
  const shop = useQuery({ queryKey: ["shop", "edit"], queryFn: () => unwrap(api.GET("/api/shop")), gcTime: 0 });
  const arrived = useArrived(shop);
  if (!arrived) return <Away of={shop} />;
  return <Editor shop={arrived.shop} version={arrived.version} />;
}

function Editor({ shop, version }: { shop: Shop; version: number }) {
  const { shop: newest, version: newestVersion } = useWorkshop();
  const client = useQueryClient();
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
      <div className="shop-columns">
        <House shop={s} set={set} />
        <Climate shop={s} set={set} />
        <Meter shop={s} set={set} />
        <section>
          <h2>Your own species</h2>
          <OwnSpecies list={s.species ?? []} onChange={(species) => set({ species }, "species")} />
        </section>
        <Sessions shop={s} set={set} />
        <Machines shop={s} set={set} />
        <Drawers shop={s} set={set} />
        <RouterTools shop={s} set={set} />
        <Clamps shop={s} set={set} />
        <Rules shop={s} set={set} />
        <Account />
      </div>
    </div>
  );
}
