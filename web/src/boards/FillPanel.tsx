// The voids within the board, and what fills them.
import type { Reckoned } from "../api/client";
import { Choice, NumberField, Row, wordsOf } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { Curing } from "./Curing";
import { HeatCurve } from "./HeatCurve";
import type { PanelProps } from "./panel";

/** endOf tells what becomes of a mark. */
function endOf(e: Reckoned["ends"][number]): string {
  const rest = e.part ? "in part cut away, the rest " : "";
  switch (e.end) {
    case "cut away":
      return "cut away by the outline";
    case "taken out":
      return e.by ? `taken out by the ${e.by}` : "taken out by what is cut into the board";
    case "planed off":
      return "planed off";
    case "kept":
      return "sound, and stays";
    case "left":
      return `${rest}left as it is`;
    default:
      return e.by === "sand it out" || e.by === "steam it up" ? `${rest}${e.by}` : `${rest}filled with ${e.by}`;
  }
}

export function FillPanel({ board: b, r, set }: PanelProps) {
  const { value, words, tables } = useWorkshop();
  return (
    <>
      <h2>Voids within the board</h2>
      {r.voids.length === 0 && <p className="facts">No void falls within this board.</p>}
      {r.voids.map((v) => {
        const chosen = v.options.find((o) => o.name === v.chosen);
        return (
          <div key={v.flaw} className="void" data-void={v.flaw}>
            <Working
              figure={v.working}
              line={
                <>
                  <strong className="figure-label">{v.name}</strong>
                  {value(v.volume, "ml")}
                </>
              }
            />
            <div className="facts">
              {value(v.width, "mm")} wide, {v.through ? "through" : `${value(v.depth, "mm")} deep after flattening`}
              {v.under && ", underside only"}
            </div>
            <Choice
              label={`Fill the ${v.name} with`}
              hideLabel
              value={v.chosen}
              options={v.options.map((o) => {
                const wait = o.wait > 0 ? showMinutes(o.wait) : "no wait";
                return { value: o.name, label: `${o.name} · ${wait} · ${o.fits ? "" : "only "}${words(o.reason)}` };
              })}
              onChange={(name) => set({ fill: { fillers: { ...b.fill.fillers, [v.flaw]: name } } })}
            />
            {chosen && (
              <div className="facts">
                {chosen.fits ? "" : "Does not fit: "}
                {words(chosen.reason)}. Food face: {chosen.food}.
              </div>
            )}
          </div>
        );
      })}
      {r.ends.length > 0 && (
        <>
          <h2>What becomes of each mark</h2>
          <ul className="plain-list ends">
            {r.ends.map((e) => (
              <li key={e.flaw} data-end={e.end}>
                <strong>{e.name}</strong>: {endOf(e)}
              </li>
            ))}
          </ul>
        </>
      )}
      {r.mix && (
        <>
          <h2>Resin</h2>
          <Row>
            <Choice
              label="Kind"
              value={b.fill.resin}
              options={wordsOf(tables.resins)}
              onChange={(resin) => set({ fill: { resin } })}
            />
            <Choice
              label="Measured"
              value={b.fill.byMass ? "mass" : "volume"}
              options={[
                { value: "volume", label: "by volume" },
                { value: "mass", label: "by mass" },
              ]}
              onChange={(v) => set({ fill: { byMass: v === "mass" } })}
            />
            <NumberField
              label="Reserve"
              unit="ml"
              of="board.fill.reserve"
              value={b.fill.reserve}
              onChange={(reserve) => set({ fill: { reserve } }, "reserve")}
            />
          </Row>
          <p className="mix">
            <strong>{value(r.mix.resinG.value, "g")}</strong> resin +{" "}
            <strong>{value(r.mix.hardenerG.value, "g")}</strong> hardener, worked within {showMinutes(r.mix.working)}.
          </p>
          <Choice
            label="Rounds of pinholes"
            value={String(b.fill.rounds ?? 0)}
            options={[
              { value: "0", label: "as usual" },
              { value: "-1", label: "none left" },
              ...[1, 2, 3, 4, 5, 6].map((n) => ({ value: String(n), label: n === 1 ? "one" : String(n) })),
            ]}
            onChange={(n) => set({ fill: { rounds: Number(n) } })}
          />
          <HeatCurve warms={r.mix.warms} />
          {r.curing && <Curing of={r.curing} />}
        </>
      )}
    </>
  );
}
