// What the boards of a run cost together, board by board and line by line.
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { api, unwrap } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

export function RunPrice({ id, line }: { id: string; line: number }) {
  const { value } = useWorkshop();
  const price = useQuery({
    queryKey: ["run", id, "price", line],
    queryFn: () => unwrap(api.GET("/api/runs/{id}/price", { params: { path: { id } } })),
  });
  const p = useArrived(price);
  if (!p) return <Away of={price} />;
  if (p.boards.length === 0) return <p className="facts">It has no boards yet.</p>;
  return (
    <div className="visits">
      <section>
        <h2>All of them</h2>
        {p.lines.map((l) => (
          <Working
            key={l.key}
            figure={l}
            line={
              <>
                {l.label} <strong>{value(l.value, l.unit)}</strong>
              </>
            }
          />
        ))}
        {p.price > 0 && (
          <p>
            Asked of customers: <strong>{value(p.price, "cents")}</strong>
          </p>
        )}
        {p.gifts > 0 && p.price > 0 && <p className="facts">Gifts among them cost {value(p.gifts, "cents")}.</p>}
      </section>
      <section>
        <h2>Board by board</h2>
        <table className="table">
          <thead>
            <tr>
              <th scope="col">Board</th>
              <th scope="col">For</th>
              <th scope="col">Costs</th>
              <th scope="col">Price</th>
            </tr>
          </thead>
          <tbody>
            {p.boards.map((b) => (
              <tr key={b.id}>
                <td>
                  <Link to={`/boards/${b.id}?stage=give&part=price`}>{b.name}</Link>
                </td>
                <td>{b.for}</td>
                <td>{value(b.cost, "cents")}</td>
                <td>{b.gift ? "a gift" : value(b.price, "cents")}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
    </div>
  );
}
