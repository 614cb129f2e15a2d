// The shop: its units, air, hours, machines, drawers and rules of thumb.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { api, say, storing, unwrap, type Shop } from "../api/client";
import { useEvening, useSignOut } from "../kit/device";
import { editor, useDocument, useUndoKeys } from "../kit/document/useDocument";
import { Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { useWorkshop } from "../kit/workshop";
import { OwnSpecies } from "./OwnSpecies";
import { RouterTools } from "./RouterTools";
import { Climate, Drawers, House, Machines, Meter, Rules, Sessions } from "./sections";

export default function ShopPlace() {
  const shop = useQuery({ queryKey: ["shop", "edit"], queryFn: () => unwrap(api.GET("/api/shop")), gcTime: 0 });
  if (!shop.data) return shop.error ? <p className="empty">{say(shop.error)}</p> : null;
  return <Editor shop={shop.data.shop} version={shop.data.version} />;
}

function Editor({ shop, version }: { shop: Shop; version: number }) {
  const { shop: newest, version: newestVersion } = useWorkshop();
  const client = useQueryClient();
  const d = useDocument<Shop, null>({
    doc: shop,
    version,
    result: null,
    draft: () => Promise.resolve(null),
    save: async (doc, v) => {
      const saved = await storing(api.PUT("/api/shop", { body: { version: v, shop: doc } }));
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
        <Rules shop={s} set={set} />
        <section>
          <h2>You and this device</h2>
          <Device />
          <Password />
        </section>
      </div>
    </div>
  );
}

function Device() {
  const [evening, setEvening] = useEvening();
  const signOut = useSignOut();
  return (
    <div className="d-flex justify-content-between align-items-center mb-2">
      <Tick label="Evening colours" value={evening} onChange={setEvening} />
      <Button size="sm" variant="outline-primary" onClick={signOut}>
        Sign out
      </Button>
    </div>
  );
}

function Password() {
  const [old, setOld] = useState("");
  const [fresh, setFresh] = useState("");
  const change = useMutation({
    mutationFn: () => unwrap(api.POST("/api/password", { body: { old, new: fresh } })),
    onSuccess: () => {
      setOld("");
      setFresh("");
    },
  });
  const submit = (e: FormEvent) => {
    e.preventDefault();
    change.mutate();
  };
  return (
    <Form onSubmit={submit}>
      <Form.Group className="field" controlId="old-password">
        <Form.Label>Old password</Form.Label>
        <Form.Control
          size="sm"
          type="password"
          autoComplete="current-password"
          value={old}
          onChange={(e) => setOld(e.target.value)}
        />
      </Form.Group>
      <Form.Group className="field" controlId="new-password">
        <Form.Label>New password</Form.Label>
        <Form.Control
          size="sm"
          type="password"
          autoComplete="new-password"
          value={fresh}
          onChange={(e) => setFresh(e.target.value)}
        />
      </Form.Group>
      <Wrong error={change.error} />
      {change.isSuccess && <p role="status">The password is changed.</p>}
      <Button size="sm" type="submit" variant="outline-primary" disabled={old === "" || fresh === ""}>
        Change it
      </Button>
    </Form>
  );
}
