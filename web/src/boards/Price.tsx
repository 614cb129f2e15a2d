// What a board costs, line by line, and what is asked for it.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { Wrong } from "../kit/parts";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

export function Price({ board, version }: { board: string; version: number }) {
  const { shop, value, words } = useWorkshop();
  const price = useQuery({
    queryKey: ["price", board, version],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/price", { params: { path: { id: board } } })),
  });
  const p = price.data;
  if (!p) return <Wrong error={price.error} />;
  const sign = shop.money?.sign ? ` ${shop.money.sign}` : "";
  const unknown = p.uses.filter((u) => !u.priced);
  const last = p.lines.findIndex((l) => l.key === "money.cost");
  return (
    <section aria-labelledby="costs">
      <h2 id="costs">{p.gift ? "What it costs" : "Cost and price"}</h2>
      {p.lines.slice(0, p.gift ? last + 1 : undefined).map((l) => (
        <Working
          key={l.key}
          figure={l}
          line={
            <>
              {l.label}{" "}
              <strong>
                {value(l.value, l.unit)}
                {sign}
              </strong>
            </>
          }
        />
      ))}
      {unknown.length > 0 && (
        <p className="facts">
          Without a price on the <Link to="/shelf">Shelf</Link>: {unknown.map((u) => words(u.item)).join(", ")}.
        </p>
      )}
      <p className="facts">
        Rates are set at the <Link to="/shop?part=house">Shop</Link>.
      </p>
    </section>
  );
}
