// What each month cost: what steps took from the shelf, what wood came to the rack, what the hours come to.
import { useQuery } from "@tanstack/react-query";
import { api, unwrap } from "../api/client";
import { showMinutes } from "../kit/length";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

export function MonthCosts() {
  const { value } = useWorkshop();
  const months = useQuery({ queryKey: ["log", "months"], queryFn: () => unwrap(api.GET("/api/money/months")) });
  if (!months.data) return <Wrong error={months.error} />;
  const some = months.data.filter((m) => m.supplies + m.wood + m.minutes + m.given > 0);
  if (some.length === 0) return null;
  return (
    <>
      <h2>What a month cost</h2>
      <div className="ledger-wide" tabIndex={0} role="region" aria-label="What months cost">
        <table className="ledger">
          <thead>
            <tr>
              <th scope="col">Month</th>
              <th scope="col">From the shelf</th>
              <th scope="col">Wood that came</th>
              <th scope="col">Hours</th>
              <th scope="col">At your rate</th>
              <th scope="col">Given away</th>
            </tr>
          </thead>
          <tbody>
            {some.map((m) => (
              <tr key={m.month}>
                <th scope="row">
                  {new Date(`${m.month}-15T12:00:00Z`).toLocaleDateString("en", { month: "long", year: "numeric" })}
                </th>
                <td>
                  {value(m.supplies, "cents")}
                  {m.unpriced > 0 && <div className="facts">{m.unpriced} without a price</div>}
                </td>
                <td>{value(m.wood, "cents")}</td>
                <td>{showMinutes(m.minutes)}</td>
                <td>{value(m.work, "cents")}</td>
                <td>{m.given || ""}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}
