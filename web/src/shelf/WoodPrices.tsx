// What wood has cost, by species and form, learned from the rack.
import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type Lumber } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { useWorkshop } from "../kit/workshop";

export function WoodPrices() {
  const { time, unit, value } = useWorkshop();
  const book = useQuery({ queryKey: ["prices"], queryFn: () => unwrap(api.GET("/api/prices/wood")) });
  const arrived = useArrived(book);
  if (!arrived) return <Away of={book} />;
  if (arrived.length === 0)
    return <p className="facts">What the pieces of the rack cost is gathered here, once one has a price.</p>;
  return (
    <div className="ledger-wide" tabIndex={0} role="region" aria-label="Prices of wood">
      <table className="table">
        <thead>
          <tr>
            <th scope="col">Wood</th>
            <th scope="col">As</th>
            <th scope="col">{unit === "in" ? "A board foot" : "A cubic metre"}</th>
            <th scope="col">Last</th>
            <th scope="col">From</th>
          </tr>
        </thead>
        <tbody>
          {arrived.map((p) => (
            <tr key={`${p.species} ${p.form}`}>
              <th scope="row">{p.species}</th>
              <td>{p.form}</td>
              <td>{value(unit === "in" ? p.boardFoot : p.metre, "cents")}</td>
              <td>
                {value(p.last, "cents")} <span className="facts">a cubic metre, {time(p.at, false)}</span>
              </td>
              <td className="facts">{p.pieces === 1 ? "1 piece" : `${p.pieces} pieces`}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

/** WoodToBuy is the wood of strips that no piece of the rack is set aside for. */
export function WoodToBuy({ wood }: { wood: Lumber[] }) {
  const { length, time, unit, value } = useWorkshop();
  if (wood.length === 0) return null;
  return (
    <>
      <h2>Wood</h2>
      <ul className="plain-list">
        {wood.map((w) => (
          <li key={`${w.species} ${w.nominal}`}>
            {w.species}, {w.nominal}:{" "}
            <strong>{unit === "in" ? value(w.boardFeet, "board feet") : value(w.volume, "m³")}</strong> for{" "}
            {w.strips === 1 ? "1 strip" : `${w.strips} strips`} up to {length(w.longest)} × {length(w.widest)}
            {`, with ${w.waste} % for waste`}
            {w.by && `, needed ${time(w.by, false)}`}
            {w.cents ? `, about ${value(w.cents, "cents")}` : ", without a price"}
            <span className="facts"> for {w.for.join("; ")}</span>
          </li>
        ))}
      </ul>
    </>
  );
}
