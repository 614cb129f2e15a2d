// Every surface of the board: how it is found, the grits that it climbs, how long that takes and how
// far it has come.
import { Fragment } from "react";
import type { Reckoned } from "../../api/client";
import { showMinutes } from "../../kit/length";

interface Props {
  r: Reckoned;
  open: string;
  onOpen: (surface: string) => void;
}

export function Surfaces({ r, open, onOpen }: Props) {
  return (
    <table className="rungs surfaces">
      <caption>Surfaces; press one to set it by itself</caption>
      <thead>
        <tr>
          <th scope="col">Surface</th>
          <th scope="col">Found</th>
          <th scope="col">Grits</th>
          <th scope="col">Takes</th>
        </tr>
      </thead>
      <tbody>
        {r.sanding.ladders.map((l) => {
          const done = r.sanded.find((s) => s.surface === l.surface);
          return (
            <tr key={l.surface} className={l.surface === open ? "is-open" : ""}>
              <th scope="row">
                <button
                  type="button"
                  className="text-link"
                  aria-expanded={l.surface === open}
                  onClick={() => onOpen(l.surface)}
                >
                  {l.surface}
                </button>
                {l.own && <span className="facts"> by itself</span>}
              </th>
              <td>{l.start}</td>
              <td>
                {l.rungs.map((rung, i) => (
                  <Fragment key={rung.grit}>
                    {rung.by && rung.by !== l.rungs[i - 1]?.by && <span className="facts rung-by"> {rung.by}</span>}
                    <span
                      className={[
                        "rung",
                        done && !done.toGo.includes(rung.grit) && "is-done",
                        rung.level !== "good" && "is-skip",
                      ]
                        .filter(Boolean)
                        .join(" ")}
                    >
                      {rung.grit}
                    </span>
                  </Fragment>
                ))}
              </td>
              <td>{showMinutes(l.minutes)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
