// What was given away: when it is oiled again, and what came back.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { serverNow } from "../api/asking";
import { api, unwrap } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Pages } from "../kit/list";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

export function GivenAway() {
  const { time, shop } = useWorkshop();
  const client = useQueryClient();
  const [page, setPage] = useState(0);
  const given = useQuery({
    queryKey: ["aftercare", page],
    queryFn: () => unwrap(api.GET("/api/aftercare", { params: { query: { page } } })),
  });
  const oiled = useMutation({
    mutationFn: ({ id, day }: { id: string; day: string }) =>
      unwrap(api.POST("/api/boards/{id}/oiled", { params: { path: { id } }, body: { day } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["aftercare"] }),
  });
  const arrived = useArrived(given);
  if (!arrived) return <Away of={given} />;
  const today = new Date(serverNow()).toLocaleDateString("sv", { timeZone: shop.timeZone });
  if (arrived.total === 0) return <p className="facts">Nothing has been given away yet.</p>;
  return (
    <>
      <p className="facts">
        What is to be oiled first stands at the top: a word to whoever has it, or an hour in the shop.
      </p>
      <div className="ledger-wide">
        <table className="table">
          <thead>
            <tr>
              <th scope="col">Board</th>
              <th scope="col">For</th>
              <th scope="col">Given</th>
              <th scope="col">Oil it</th>
              <th scope="col">
                <span className="visually-hidden">What was done</span>
              </th>
            </tr>
          </thead>
          <tbody>
            {arrived.items.map((b) => (
              <tr key={b.id}>
                <td>
                  <Link to={`/boards/${b.id}?stage=give`}>{b.name}</Link>
                </td>
                <td>{b.for}</td>
                <td>{time(b.given, false)}</td>
                <td className={b.late ? "late" : ""}>
                  {b.next ? `${b.late ? "due since " : ""}${time(`${b.next}T12:00:00Z`, false)}` : "not known"}
                  {b.oiled && <div className="facts">oiled {time(`${b.oiled}T12:00:00Z`, false)}</div>}
                </td>
                <td>
                  <Button
                    size="sm"
                    variant="outline-primary"
                    disabled={oiled.isPending}
                    onClick={() => oiled.mutate({ id: b.id, day: b.oiled === today ? "" : today })}
                  >
                    {b.oiled === today ? "Not oiled after all" : "Oiled today"}
                    <span className="visually-hidden">, {b.name}</span>
                  </Button>{" "}
                  <Link className="btn btn-sm btn-outline-secondary" to={`/boards/${b.id}?stage=give&back=1`}>
                    It came back
                  </Link>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <Wrong error={oiled.error} />
      <Pages total={arrived.total} page={page} onPage={setPage} />
    </>
  );
}
