// What a board costs, line by line, what is asked for it, and what it would cost made otherwise.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { MoneyField, RemoveButton, Row, TextField } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Wrong } from "../kit/parts";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

export function Price({ panel }: { panel: PanelProps }) {
  const { board: b, change, stored: version } = panel;
  const { value, words } = useWorkshop();
  const price = useQuery({
    queryKey: ["price", b.id, version],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/price", { params: { path: { id: b.id } } })),
  });
  const p = price.data;
  if (!p) return <Wrong error={price.error} />;
  const unknown = p.uses.filter((u) => !u.priced);
  const last = p.lines.findIndex((l) => l.key === "money.cost");
  const extras = b.give.extras ?? [];
  const setExtras = (next: typeof extras) =>
    change((now) => ({ ...now, give: { ...now.give, extras: next } }), "extras");
  return (
    <section aria-labelledby="costs">
      <h3 id="costs">{p.gift ? "What it costs" : "Cost and price"}</h3>
      {p.lines.slice(0, p.gift ? last + 1 : undefined).map((l) => (
        <Working
          key={l.key}
          figure={l}
          line={
            <>
              {l.label} <strong>{value(l.value, "cents")}</strong>
            </>
          }
        />
      ))}
      {unknown.length > 0 && (
        <p className="facts">
          Without a price on the <Link to="/shelf">Shelf</Link>: {unknown.map((u) => words(u.item)).join(", ")}.
        </p>
      )}
      <details>
        <summary>What it takes, with prices</summary>
        <table className="table">
          <tbody>
            {p.uses.map((u) => (
              <Used key={`${u.kind} ${u.item} ${u.unit}`} use={u} />
            ))}
          </tbody>
        </table>
      </details>
      <h3>Add-ons, and work bought in</h3>
      {extras.map((e, i) => (
        <Row key={i}>
          <TextField
            label="What"
            value={e.name}
            onChange={(name) => setExtras(extras.map((x, k) => (k === i ? { ...x, name } : x)))}
          />
          <MoneyField
            label="Costs"
            of="board.give.extras.cents"
            cents={e.cents}
            onChange={(cents) => setExtras(extras.map((x, k) => (k === i ? { ...x, cents } : x)))}
          />
          <RemoveButton what={e.name || "it"} onClick={() => setExtras(extras.filter((_, k) => k !== i))} />
        </Row>
      ))}
      <Button size="sm" variant="link" onClick={() => setExtras([...extras, { name: "Gift box", cents: 0 }])}>
        Add something
      </Button>
      <Compare panel={panel} />
      <p className="facts">
        Rates are set at the <Link to="/shop?part=house">Shop</Link>.
      </p>
    </section>
  );
}

function Used({ use: u }: { use: { item: string; amount: number; unit: string; cents: number; priced: boolean } }) {
  const { value, words } = useWorkshop();
  return (
    <tr>
      <td>{words(u.item)}</td>
      <td>{value(u.amount, u.unit)}</td>
      <td>{u.priced ? value(u.cents, "cents") : "no price"}</td>
    </tr>
  );
}

/** Compare lays the board made otherwise side by side, once it is asked for. */
function Compare({ panel }: { panel: PanelProps }) {
  const { value, words } = useWorkshop();
  const [open, setOpen] = useState(false);
  const ways = useQuery({
    queryKey: ["compare", panel.board.id, panel.stored],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/compare", { params: { path: { id: panel.board.id } } })),
    enabled: open,
  });
  return (
    <>
      <h3>Made otherwise</h3>
      {!open && (
        <Button size="sm" variant="outline-primary" onClick={() => setOpen(true)}>
          What would it cost?
        </Button>
      )}
      {open && ways.isPending && <p className="facts">Reckoning each of them.</p>}
      <Wrong error={ways.error} />
      {ways.data?.map((c) => (
        <table key={c.what} className="table compare">
          <caption>{c.what}</caption>
          <tbody>
            {c.ways.map((w) => (
              <tr key={w.name} className={w.chosen ? "chosen" : ""}>
                <th scope="row">{words(w.name)}</th>
                <td>{value(w.cost, "cents")}</td>
                <td>{showMinutes(w.minutes)}</td>
                <td>
                  {w.chosen ? (
                    "as it is"
                  ) : (
                    <>
                      {w.more > 0 && "+"}
                      {value(w.more, "cents")}{" "}
                      {w.stops ? (
                        <span className="late">brings a stop</span>
                      ) : (
                        <Button size="sm" variant="link" onClick={() => panel.applyPatch(w.patch)}>
                          Take it<span className="visually-hidden">: {words(w.name)}</span>
                        </Button>
                      )}
                    </>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ))}
    </>
  );
}
