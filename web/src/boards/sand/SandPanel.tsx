// The grits: of the board, and of every surface by itself; water between them.
import { useState } from "react";
import type { OwnSurface } from "../../api/client";
import { Choice, Tick, wordsOf } from "../../kit/fields";
import { showMinutes } from "../../kit/length";
import { Figures } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import type { PanelProps } from "../panel";
import { Grits } from "./Grits";
import { Raising } from "./Raising";
import { Stair } from "./Stair";
import { Surface } from "./Surface";
import { Surfaces } from "./Surfaces";

/** grit is a grit as it is called. */
const grit = (g: number): string => `P${g}`;

export function SandPanel({ board: b, r, set, replace, change }: PanelProps) {
  const { shop, tables } = useWorkshop();
  const [open, setOpen] = useState("");
  const s = b.sand;
  const { proposed, ladders } = r.sanding;
  const byHand = (s.ladder ?? []).length > 0;
  const surface = ladders.find((l) => l.surface === open);
  const setOwn = (name: string, next: OwnSurface | null, kind = "") =>
    change(
      (now) => ({
        ...now,
        sand: {
          ...now.sand,
          own: [...(now.sand.own ?? []).filter((o) => o.surface !== name), ...(next ? [next] : [])],
        },
      }),
      kind,
    );
  return (
    <>
      <h2>Sanding</h2>
      <div className="field-row">
        <Choice
          label="Faces from"
          value={s.start}
          options={[{ value: "", label: `as milled: ${r.sanding.start}` }, ...wordsOf(tables.starts)]}
          onChange={(start) => set({ sand: { start } })}
        />
        <Choice
          label="Last grit"
          value={String(s.last)}
          options={[
            { value: "0", label: `as asked for: ${grit(proposed.grit)}` },
            ...[...new Set([...shop.grits, ...(s.last ? [s.last] : [])])]
              .sort((x, y) => x - y)
              .map((g) => ({ value: String(g), label: grit(g) })),
          ]}
          onChange={(g) => set({ sand: { last: Number(g) } })}
        />
      </div>
      <p className="facts">
        {grit(proposed.grit)}: {proposed.why}.
        {proposed.finer > 0 && (
          <>
            {" "}
            {grit(proposed.finer)} would cost {showMinutes(proposed.minutes)} more. {proposed.felt}, as an estimate.
          </>
        )}
      </p>
      <Stair ladder={ladders[0]} />
      <Grits
        label="Grits of the board"
        of={r.sanding.grits}
        byHand={byHand}
        onChange={(next) => replace(next)}
        told={byHand ? "A ladder made by hand." : "The quickest ladder over the grits in your drawer."}
      />
      <Tick
        label="Round the corners at the first grit, and again at the last"
        value={s.corners ?? false}
        onChange={(corners) => set({ sand: { corners } })}
      />
      {r.sanded.some((l) => l.kind === "resin") && (
        <Choice
          label="Resin on to"
          value={String(s.resin || tables.clear[0])}
          options={tables.clear.map((g, i) => ({
            value: String(g),
            label: `${grit(g)}: it ${i === 0 ? "is clear" : "shines"}`,
          }))}
          onChange={(g) => set({ sand: { resin: Number(g) } })}
        />
      )}
      <Surfaces r={r} open={open} onOpen={(name) => setOpen(name === open ? "" : name)} />
      {surface && (
        <Surface
          key={surface.surface}
          ladder={surface}
          own={(s.own ?? []).find((o) => o.surface === surface.surface)}
          set={(next, kind) => setOwn(surface.surface, next, kind)}
        />
      )}
      <Raising board={b} r={r} set={set} change={change} />
      <Figures figures={ladders.map((l) => l.working)} />
    </>
  );
}
