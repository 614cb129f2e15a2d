// One surface that is set by itself.
import Button from "react-bootstrap/Button";
import type { Ladder, OwnSurface } from "../../api/client";
import { Choice, NumberField, TextField, wordsOf } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import { Grits } from "./Grits";
import { Stair } from "./Stair";

interface Props {
  ladder: Ladder;
  own?: OwnSurface;
  set: (own: OwnSurface | null, kind?: string) => void;
}

export function Surface({ ladder: l, own, set }: Props) {
  const { shop, tables } = useWorkshop();
  const now: OwnSurface = own ?? { surface: l.surface };
  const change = (part: Partial<OwnSurface>, kind = "") => set({ ...now, ...part }, kind);
  const byHand = (now.ladder ?? []).length > 0;
  const tool = tables.sandTools.find((t) => t.name === now.tool);
  return (
    <section className="one-surface" aria-label={`Sanding of the ${l.surface}`}>
      <h3>{l.surface[0].toUpperCase() + l.surface.slice(1)}</h3>
      <Stair ladder={l} />
      <div className="field-row">
        <Choice
          label="From"
          value={now.start ?? ""}
          options={[{ value: "", label: "as it is made" }, ...wordsOf(tables.starts)]}
          onChange={(start) => change({ start })}
        />
        <Choice
          label="With"
          value={now.tool ?? ""}
          options={[
            { value: "", label: "whatever gets there" },
            ...tables.sandTools.map((t) => ({ value: t.name as NonNullable<OwnSurface["tool"]>, label: t.name })),
          ]}
          onChange={(tool) => change({ tool })}
        />
      </div>
      {tool && <p className="facts">{tool.tell[0].toUpperCase() + tool.tell.slice(1)}.</p>}
      <div className="field-row">
        <Choice
          label="Last grit"
          value={String(now.last ?? 0)}
          options={[
            { value: "0", label: "that of the board" },
            ...[...new Set([...shop.grits, ...(now.last ? [now.last] : [])])]
              .sort((x, y) => x - y)
              .map((g) => ({ value: String(g), label: `P${g}` })),
          ]}
          onChange={(g) => change({ last: Number(g) })}
        />
        <NumberField
          label="Last grits by hand"
          whole
          of="board.sand.own.hand"
          value={now.hand ?? 0}
          onChange={(hand) => change({ hand }, "hand")}
        />
      </div>
      <Grits
        label={`Grits of the ${l.surface}`}
        of={l.rungs.map((r) => r.grit)}
        byHand={byHand}
        onChange={(ladder) => change({ ladder })}
        told={byHand ? "Made by hand." : "The quickest for it."}
      />
      <TextField label="Note" value={now.note ?? ""} onChange={(note) => change({ note }, "note")} />
      {own && (
        <Button size="sm" variant="outline-primary" onClick={() => set(null)}>
          Sand it like the board
        </Button>
      )}
    </section>
  );
}
