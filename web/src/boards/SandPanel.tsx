// The grits, and the minutes that each takes.
import Button from "react-bootstrap/Button";
import { Choice, Row, wordsOf } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Figures } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";
import { Stair } from "./Stair";

export function SandPanel({ board: b, r, set, replace }: PanelProps) {
  const { shop, tables } = useWorkshop();
  const s = b.sand;
  const ladder = r.sanding.grits;
  const climbed = [...ladder, ...r.sanding.beyond];
  const toggle = (g: number) => {
    const next = ladder.includes(g) ? ladder.filter((o) => o !== g) : [...ladder, g].sort((x, y) => x - y);
    if (next.length > 0) replace(next);
  };
  const byHand = (s.ladder ?? []).length > 0;
  return (
    <>
      <h2>Sanding</h2>
      <Row>
        <Choice
          label="From"
          value={s.start}
          options={[{ value: "", label: `as it is milled: ${r.sanding.start}` }, ...wordsOf(tables.starts)]}
          onChange={(start) => set({ sand: { start } })}
        />
        <Choice
          label="Last grit"
          value={String(s.last)}
          options={[...new Set([...shop.grits, s.last])]
            .sort((x, y) => x - y)
            .map((g) => ({ value: String(g), label: `P${g}` }))}
          onChange={(g) => set({ sand: { last: Number(g) } })}
        />
        <Choice
          label="Raise the grain"
          value={s.raise}
          options={wordsOf(tables.raising)}
          onChange={(raise) => set({ sand: { raise } })}
        />
      </Row>
      {r.sanding.ladders.some((l) => l.surface === "resin") && (
        <Choice
          label="Resin on to"
          value={String(s.resin || tables.clear[0])}
          options={tables.clear.map((g, i) => ({
            value: String(g),
            label: `P${g}: it ${i === 0 ? "is clear" : "shines"}`,
          }))}
          onChange={(g) => set({ sand: { resin: Number(g) } })}
        />
      )}
      <Stair plan={r.sanding} />
      <div className="d-flex gap-1 flex-wrap align-items-center" role="group" aria-label="Grits of the ladder">
        {shop.grits.map((g) => (
          <Button
            key={g}
            size="sm"
            variant={ladder.includes(g) ? "primary" : "outline-primary"}
            aria-pressed={ladder.includes(g)}
            onClick={() => toggle(g)}
          >
            P{g}
          </Button>
        ))}
        {byHand && (
          <Button size="sm" variant="link" onClick={() => replace([])}>
            Back to the quickest
          </Button>
        )}
      </div>
      <p className="facts">
        {byHand ? "A ladder made by hand." : "The quickest ladder over the grits in your drawer."}
        {r.sanding.raiseAfter.length > 0 &&
          ` Water goes on after ${r.sanding.raiseAfter.map((g) => `P${g}`).join(", ")}.`}
      </p>
      <table className="rungs">
        <thead>
          <tr>
            <th scope="col">Surface</th>
            {climbed.map((g) => (
              <th key={g} scope="col">
                P{g}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {r.sanding.ladders.map((l) => (
            <tr key={l.surface}>
              <th scope="row">{l.surface}</th>
              {climbed.map((g) => {
                const rung = l.rungs.find((o) => o.grit === g);
                return <td key={g}>{rung ? showMinutes(rung.minutes) : ""}</td>;
              })}
            </tr>
          ))}
          <tr>
            <th scope="row">leaves</th>
            {r.sanding.ladders[0]?.rungs.map((rung) => (
              <td key={rung.grit}>{rung.leaves.toFixed(1)} µm</td>
            ))}
          </tr>
        </tbody>
      </table>
      <Figures figures={r.sanding.ladders.map((l) => l.working)} />
    </>
  );
}
