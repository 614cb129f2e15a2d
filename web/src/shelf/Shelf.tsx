// The shelf: what is left of each product, and what must be bought, by when.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useSearchParams } from "react-router";
import { api, unwrap, type Product, type ProductDoc, type Shopping } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Choice, TextField, Tick } from "../kit/fields";
import { Pages, useSought } from "../kit/list";
import { Parts, Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { Level } from "./Level";
import { kinds } from "./kinds";
import { ProductForm } from "./ProductForm";
import { TakeIn } from "./TakeIn";
import { WoodPrices, WoodToBuy } from "./WoodPrices";

const parts = { shelf: "On the shelf", buy: "To buy", wood: "Wood prices" };
type Part = keyof typeof parts;

export default function ShelfPlace() {
  const [query, setQuery] = useSearchParams();
  const asked = query.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : "shelf";
  return (
    <div className="sheet-page shelf">
      <header className="page-head">
        <h1>Shelf</h1>
      </header>
      <Parts parts={parts} open={part} onOpen={(to) => setQuery(to === "shelf" ? {} : { part: to })} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {part === "shelf" && <Products sought={query.get("q") ?? ""} />}
        {part === "buy" && <ToBuy />}
        {part === "wood" && <WoodPrices />}
      </div>
    </div>
  );
}

const useShopping = (once = false) =>
  useQuery({
    queryKey: ["shelf", "shopping", once],
    queryFn: () => unwrap(api.GET("/api/shelf/shopping", { params: { query: { once } } })),
  });

function Products({ sought: first }: { sought: string }) {
  const [sought, setSought, words] = useSought(first);
  const [kind, setKind] = useState<"" | Product["kind"]>("");
  const [page, setPage] = useState(0);
  const [bin, setBin] = useState(false);
  const [open, setOpen] = useState<string>();
  const shopping = useShopping();
  const shelf = useQuery({
    queryKey: ["shelf", words, kind, bin, page],
    queryFn: () => unwrap(api.GET("/api/shelf", { params: { query: { q: words, kind, page, bin } } })),
  });
  const arrived = useArrived(shelf);
  if (!arrived) return <Away of={shelf} />;
  const items = shopping.data?.items ?? [];
  return (
    <>
      <div className="list-bar">
        <TextField label="Look for" value={sought} onChange={setSought} />
        <Choice
          label="Kind"
          value={kind}
          options={[{ value: "", label: "All" }, ...kinds.map((k) => ({ value: k, label: k }))]}
          onChange={(to) => {
            setKind(to);
            setPage(0);
          }}
        />
        <Tick
          label="What was put away"
          value={bin}
          onChange={(to) => {
            setBin(to);
            setPage(0);
          }}
        />
        <Button size="sm" onClick={() => setOpen("new")} disabled={open === "new"}>
          Put something on the shelf
        </Button>
      </div>
      {open === "new" && <ProductForm items={items} onClose={() => setOpen(undefined)} />}
      {arrived.total === 0 && !bin && (
        <p className="facts">
          {words || kind
            ? "Nothing like that is on the shelf."
            : "What is counted once is followed from then on: a step that is finished takes its part."}
        </p>
      )}
      <ul className="plain-list products">
        {arrived.items.map((p) => (
          <li key={p.id}>
            {p.binned ? (
              <Back of={p} />
            ) : (
              <Line of={p} open={open === p.id} onOpen={() => setOpen(open === p.id ? undefined : p.id)} />
            )}
            {open === p.id && !p.binned && <ProductForm of={p} items={items} onClose={() => setOpen(undefined)} />}
          </li>
        ))}
      </ul>
      <Pages total={arrived.total} page={page} onPage={setPage} />
      <TakeIn />
    </>
  );
}

/** Back takes a product out again that was put away. */
function Back({ of: p }: { of: ProductDoc }) {
  const client = useQueryClient();
  const back = useMutation({
    mutationFn: () => unwrap(api.POST("/api/shelf/{id}/restore", { params: { path: { id: p.id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["shelf"] }),
  });
  return (
    <>
      <Button size="sm" variant="link" disabled={back.isPending} onClick={() => back.mutate()}>
        Put {p.product.name} back on the shelf
      </Button>
      <Wrong error={back.error} />
    </>
  );
}

function Line({ of: p, open, onOpen }: { of: ProductDoc; open: boolean; onOpen: () => void }) {
  const { value } = useWorkshop();
  const { product: d, stands: s } = p;
  return (
    <div className="product">
      <Level of={s.level} short={s.short ?? false} label={`${value(s.left, d.unit)} left`} />
      <button type="button" className="text-link" aria-expanded={open} onClick={onOpen}>
        {d.name}
      </button>
      <span className="facts">
        {d.item.toLowerCase() !== d.name.toLowerCase() && `${d.item}. `}
        {d.colour && `${d.colour}. `}
        {d.where && `${d.where}.`}
      </span>
      <span>
        <strong>{value(s.left, d.unit)}</strong> left
        {s.reserved > 0 && <>, {value(s.reserved, d.unit)} of it for work ahead</>}
        {s.short && <span className="late">, and that is not enough</span>}
      </span>
      {(s.over ?? 0) > 0 && (
        <span className="late">{value(s.over ?? 0, d.unit)} more was used than was there: count it</span>
      )}
      {s.old && <span className="late">{s.old}</span>}
      {s.keep && <span className="facts">{s.keep}.</span>}
    </div>
  );
}

function ToBuy() {
  const [once, setOnce] = useState(false);
  const shopping = useShopping(once);
  const arrived = useArrived(shopping);
  if (!arrived) return <Away of={shopping} />;
  if (arrived.lines.length + arrived.wood.length === 0)
    return <p className="facts">All that the work ahead takes is on the shelf.</p>;
  return (
    <>
      {arrived.wood.length > 0 && <Tick label="There is no second trip for wood" value={once} onChange={setOnce} />}
      <WoodToBuy wood={arrived.wood} />
      <List of={arrived} />
    </>
  );
}

function List({ of: list }: { of: Shopping }) {
  const { time, value } = useWorkshop();
  return (
    <div className="ledger-wide">
      <table className="table to-buy">
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Missing</th>
            <th scope="col">Packs</th>
            <th scope="col">Order by</th>
            <th scope="col">For</th>
            <th scope="col">Cost</th>
          </tr>
        </thead>
        <tbody>
          {list.lines.map((b) => (
            <tr key={`${b.kind} ${b.item} ${b.unit}`}>
              <td>
                {b.item}
                <div className="facts">
                  {b.name && b.name !== b.item ? `${b.name}. ` : ""}
                  {b.shops}
                </div>
              </td>
              <td>
                {value(b.short, b.unit)}
                {b.short < b.needs && <span className="facts"> of {value(b.needs, b.unit)}</span>}
              </td>
              <td>{b.packs ? b.packs : ""}</td>
              <td>
                {b.order ? time(b.order, false) : ""}
                {b.by && <div className="facts">needed {time(b.by, false)}</div>}
              </td>
              <td className="facts">{b.for.join("; ")}</td>
              <td>{b.cents ? value(b.cents, "cents") : ""}</td>
            </tr>
          ))}
        </tbody>
        <tfoot>
          <tr>
            <th scope="row" colSpan={5}>
              What has a price, together
            </th>
            <td>{value(list.cents, "cents")}</td>
          </tr>
        </tfoot>
      </table>
    </div>
  );
}
