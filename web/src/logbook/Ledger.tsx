// What each kind of work took against its estimate, hours by month, days lost.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, unwrap, type KindTook } from "../api/client";
import { Away } from "../kit/away";
import { showMinutes } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { MonthCosts } from "./MonthCosts";

const hours = (h: number): string => showMinutes(h * 60);

export function Ledger() {
  const { words } = useWorkshop();
  const ledger = useQuery({ queryKey: ["log", "ledger"], queryFn: () => unwrap(api.GET("/api/log/ledger")) });
  const [open, setOpen] = useState("");
  if (!ledger.data) return <Away of={ledger} />;
  const { kinds, months, daysLost } = ledger.data;
  if (kinds.length === 0) return <p className="empty">Nothing has been finished yet.</p>;
  const longest = Math.max(...months.map((m) => m.hours), 1e-9);
  return (
    <>
      <p className="facts">
        {hours(ledger.data.hours)} hands-on in all
        {daysLost > 0 && `, ${words(`{${daysLost} d}`)} lost by mishaps`}. Every plan reckons by your pace: actual to
        estimated minutes, drawn toward one while there are few.
      </p>
      <div className="ledger-wide" tabIndex={0} role="region" aria-label="Kinds of work">
        <table className="ledger">
          <thead>
            <tr>
              <th scope="col">Kind of work</th>
              <th scope="col">Steps</th>
              <th scope="col">Estimated</th>
              <th scope="col">Took</th>
              <th scope="col">Your pace</th>
              <th scope="col">Days lost</th>
            </tr>
          </thead>
          <tbody>
            {kinds.map((k) => (
              <Kind key={k.kind} of={k} open={open === k.kind} onOpen={() => setOpen(open === k.kind ? "" : k.kind)} />
            ))}
          </tbody>
        </table>
      </div>
      <MonthCosts />
      <h2>By month</h2>
      <div className="ledger-wide" tabIndex={0} role="region" aria-label="Months">
        <table className="months">
          <thead>
            <tr>
              <th scope="col">Month</th>
              <th scope="col">Hands-on</th>
              <th scope="col">Of it in dust</th>
              <td />
            </tr>
          </thead>
          <tbody>
            {months.map((m) => (
              <tr key={m.month}>
                <th scope="row">
                  {new Date(`${m.month}-15T12:00:00Z`).toLocaleDateString("en", { month: "long", year: "numeric" })}
                </th>
                <td>{hours(m.hours)}</td>
                <td>{hours(m.dusty)}</td>
                <td className="bar">
                  <svg viewBox="0 0 100 10" preserveAspectRatio="none" aria-hidden="true">
                    <rect className="hours" width={(100 * m.hours) / longest} height={10} />
                    <rect className="dusty" width={(100 * m.dusty) / longest} height={10} />
                  </svg>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="caution">
        <strong>Dust.</strong> Wear a mask and extract at the tool while you saw, rout and sand; follow what your local
        rules ask for.
      </p>
    </>
  );
}

function Kind({ of: k, open, onOpen }: { of: KindTook; open: boolean; onOpen: () => void }) {
  return (
    <>
      <tr>
        <th scope="row">
          {k.points.length > 0 ? (
            <button type="button" className="text-link" aria-expanded={open} onClick={onOpen}>
              {k.kind}
            </button>
          ) : (
            k.kind
          )}
        </th>
        <td>{k.steps}</td>
        <td>{showMinutes(k.estimated)}</td>
        <td>{showMinutes(k.actual)}</td>
        <td>× {k.pace}</td>
        <td>{k.mishaps > 0 ? `${k.daysLost} in ${k.mishaps}` : ""}</td>
      </tr>
      {open && (
        <tr>
          <td colSpan={6}>
            <Plot of={k} />
          </td>
        </tr>
      )}
    </>
  );
}

/** Plot shows each finished step: estimated across, actual up, with the line on which they are equal. */
function Plot({ of: k }: { of: KindTook }) {
  const [wide, high, left, foot] = [420, 240, 44, 30];
  const most = Math.max(...k.points.flatMap((p) => [p.estimated, p.actual])) * 1.05;
  const x = (m: number) => left + (m / most) * (wide - left - 8);
  const y = (m: number) => high - foot - (m / most) * (high - foot - 8);
  const slow = most * Math.min(1, 1 / k.pace);
  return (
    <svg
      className="took-plot"
      viewBox={`0 0 ${wide} ${high}`}
      role="img"
      aria-label={`${k.kind}: ${k.steps} steps, ${showMinutes(k.estimated)} estimated, ${showMinutes(k.actual)} taken`}
    >
      <path className="axes" d={`M${left} 8V${high - foot}H${wide - 8}`} />
      <path className="equal" d={`M${x(0)} ${y(0)}L${x(most)} ${y(most)}`} />
      <path className="pace" d={`M${x(0)} ${y(0)}L${x(slow)} ${y(slow * k.pace)}`} />
      {k.points.map((p, i) => (
        <circle key={i} cx={x(p.estimated)} cy={y(p.actual)} r={4} />
      ))}
      <text x={wide - 8} y={high - 8} textAnchor="end">
        estimated, to {showMinutes(most)}
      </text>
      <text x={left + 6} y={18}>
        taken
      </text>
      <text x={left} y={high - 8}>
        dashed: as estimated; line: your pace
      </text>
    </svg>
  );
}
