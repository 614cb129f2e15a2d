// Raising the grain: the ways side by side, and what each buys.
import Button from "react-bootstrap/Button";
import { showMinutes } from "../../kit/length";
import type { PanelProps } from "../panel";

export function Raising({ board: b, r, set, change }: Pick<PanelProps, "board" | "r" | "set" | "change">) {
  const { wettings, raiseAfter, grits } = r.sanding;
  const pick = (g: number) =>
    change((now) => {
      const wet = now.sand.raise === "picked" ? (now.sand.wet ?? []) : raiseAfter;
      const next = wet.includes(g) ? wet.filter((o) => o !== g) : [...wet, g].sort((x, y) => x - y);
      return { ...now, sand: { ...now.sand, raise: "picked", wet: next } };
    });
  return (
    <section aria-labelledby="raising">
      <h3 id="raising">Raising the grain</h3>
      <table className="rungs wettings">
        <thead>
          <tr>
            <th scope="col">Wetted</th>
            <th scope="col">Rounds</th>
            <th scope="col">Dries</th>
            <th scope="col">Your time</th>
            <th scope="col">Fuzz off</th>
          </tr>
        </thead>
        <tbody>
          {wettings.map((w) => (
            <tr key={w.school} className={w.school === b.sand.raise ? "is-open" : ""}>
              <th scope="row">
                <button
                  type="button"
                  className="text-link"
                  aria-pressed={w.school === b.sand.raise}
                  onClick={() => set({ sand: { raise: w.school as typeof b.sand.raise } })}
                >
                  {w.school}
                </button>
              </th>
              <td>{w.after.length}</td>
              <td>{showMinutes(w.drying)}</td>
              <td>{showMinutes(w.handsOn)}</td>
              <td title={w.words}>{w.takes} %</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="facts">{wettings.find((w) => w.school === b.sand.raise)?.words}.</p>
      <div className="d-flex gap-1 flex-wrap align-items-center" role="group" aria-label="Wetted after">
        <span className="facts">After</span>
        {grits.map((g) => (
          <Button
            key={g}
            size="sm"
            variant={raiseAfter.includes(g) ? "primary" : "outline-primary"}
            aria-pressed={raiseAfter.includes(g)}
            onClick={() => pick(g)}
          >
            P{g}
          </Button>
        ))}
      </div>
      {raiseAfter.includes(grits[grits.length - 1]) && (
        <p className="facts">After the last grit it is sanded once more with it: nothing else takes the fibres off.</p>
      )}
    </section>
  );
}
