// A rim of plies bent round the outline.
import { Choice, LengthField, NumberField, Row, TextField, Tick } from "../kit/fields";
import { Amounts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

export function RimFields({ board, r, change }: PanelProps) {
  const { tables, shop, length } = useWorkshop();
  const m = board.rim;
  type Rim = NonNullable<typeof m>;
  const begin: Rim = { species: "Sugar maple", plies: 3, ply: 1.5, glue: tables.glues[0].name };
  const set = (part: Partial<Rim>) =>
    change((b) => (b.rim ? { ...b, rim: { ...b.rim, ...part } } : b), `rim-${Object.keys(part)[0]}`);
  const bent = r.rim;
  return (
    <>
      <h2>Rim</h2>
      <Tick
        label="A rim of plies bent round it"
        value={Boolean(m)}
        onChange={(on) => change((b) => ({ ...b, rim: on ? begin : undefined }))}
      />
      {m && (
        <>
          <TextField
            label="Species of the plies"
            value={m.species}
            list={[...(shop.species ?? []).map((s) => s.name), ...tables.species.map((s) => s.name)]}
            onChange={(species) => set({ species })}
          />
          <Row>
            <NumberField
              label="Plies"
              whole
              of="board.rim.plies"
              value={m.plies}
              onChange={(plies) => set({ plies })}
            />
            <LengthField label="A ply, thick" of="board.rim.ply" mm={m.ply} onChange={(ply) => set({ ply })} />
            <LengthField
              label="High, 0 for the board"
              of="board.rim.height"
              mm={m.height ?? 0}
              onChange={(height) => set({ height })}
            />
          </Row>
          <Choice
            label="Bent on"
            value={m.free ? "form" : "board"}
            options={[
              { value: "board", label: "the board itself, taped" },
              { value: "form", label: "a form of its own" },
            ]}
            onChange={(v) => set({ free: v === "form" })}
          />
          <Choice
            label="Glue of the rim"
            value={m.glue}
            options={tables.glues.map((g) => g.name)}
            onChange={(glue) => set({ glue })}
          />
          {bent && (
            <Amounts
              rows={[
                ["Tightest bend", bent.tightest > 0 ? length(Math.round(bent.tightest)) : "none"],
                ["A ply breaks at", length(Math.round(bent.least))],
                ["Plies, long", bent.lengths.map((l) => length(Math.ceil(l))).join(", ")],
                ...(bent.form > 0 ? [["Form, radius", length(Math.round(bent.form))] as [string, string]] : []),
                ...bent.corners.map((c, i): [string, string] => [`Mitre ${i + 1}`, `${Math.round(c.mitre)}°`]),
                ["The board grows by", `${length(bent.adds)} all round`],
              ]}
            />
          )}
        </>
      )}
    </>
  );
}
