// The strips of a panel: how they stand, their pattern, and the one that is picked.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Arranging, type OfParts, type Panel } from "../../api/client";
import { Choice, LengthField, NumberField, Row, TextField, Tick } from "../../kit/fields";
import { Amounts, Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { EndView } from "./EndView";
import { Layers } from "./Layers";
import { StripCard } from "./StripCard";

export const constructions: Record<string, string> = {
  flat: "Flat: wide faces up",
  "on edge": "On edge: turned by 90°",
  "stacked quarter": "Stacked quarter: on edge, rings standing",
  "end grain": "End grain: cut again, stood up",
  chevron: "Chevron: cut again, turned over",
  "unequal lengths": "Unequal lengths: the longer ones become handles",
};

interface Props {
  panel: Panel;
  parts: OfParts;
  picked: string;
  onPick: (id: string) => void;
  edit: (change: (p: Panel) => Panel, step: string) => void;
}

export function Strips({ panel: p, parts, picked, onPick, edit }: Props) {
  const { length, value } = useWorkshop();
  const set = (part: Partial<Panel>) => edit((now) => ({ ...now, ...part }), `panel-${Object.keys(part)[0]}`);
  const at = p.strips.findIndex((s) => s.id === picked);
  return (
    <>
      <h2>Strips</h2>
      <Choice
        label="They stand"
        value={p.construction}
        options={Object.entries(constructions).map(([v, label]) => ({ value: v, label }))}
        onChange={(construction) => set({ construction: construction as Panel["construction"] })}
      />
      {parts.again && <Slices panel={p} parts={parts} set={set} />}
      <Amounts
        rows={[
          ["Panel", `${length(parts.length)} × ${length(parts.width)}, ${length(parts.flat)} when flat and sanded`],
          ...parts.shares.map((s): [string, string] => [s.species, value(s.percent, "%")]),
          ["Symmetry", parts.symmetric ? "both halves alike" : "halves differ"],
          ["Planing", parts.slant ? "grain rises both ways: at a slant" : "with the arrows"],
        ]}
      />
      <EndView panel={p} parts={parts} picked={picked} />
      {at >= 0 && <StripCard key={picked} panel={p} parts={parts} at={at} edit={edit} onGone={() => onPick("")} />}
      <ol className="strip-list" aria-label="Strips, from the left edge">
        {p.strips.map((s, i) => (
          <li key={s.id}>
            <button
              type="button"
              className="strip-line"
              aria-pressed={s.id === picked}
              onClick={() => onPick(s.id === picked ? "" : s.id)}
            >
              <span className="swatch" style={{ background: parts.parts.find((d) => d.strip === i)?.light }} />
              {parts.strips[i]?.species ?? s.species}, {length(s.width)} × {length(parts.strips[i]?.thickness ?? 0)}
              <span className="facts">
                {s.piece ? "from the rack" : s.atHand ? "at hand" : "to be bought"}
                {parts.strips[i]?.problem && ", has no place"}
              </span>
            </button>
          </li>
        ))}
      </ol>
      <Arrange panel={p} parts={parts} edit={edit} />
      <Layers panel={p} parts={parts} set={set} />
      <Spares panel={p} parts={parts} edit={edit} />
    </>
  );
}

/** Slices are how a striped panel is cut again, its two lay-ups side by side. */
function Slices({ panel: p, parts, set }: { panel: Panel; parts: OfParts; set: (part: Partial<Panel>) => void }) {
  const { length, value } = useWorkshop();
  const chevron = p.construction === "chevron";
  const other = parts.other;
  const lay = (s: OfParts["slices"]) =>
    `${s.count} slices, ${length(s.length)} × ${length(s.width)}, ${value(100 * s.yield, "%")} of the wood`;
  return (
    <>
      <Row>
        {chevron && (
          <NumberField
            label="Angle to the strips"
            unit="°"
            of="piece.glue.degrees"
            value={p.degrees ?? 45}
            onChange={(degrees) => set({ degrees })}
          />
        )}
        <LengthField
          label={chevron ? "Width of a slice" : "Cut height of a slice"}
          of="piece.glue.slice"
          mm={p.slice ?? 40}
          onChange={(slice) => set({ slice })}
        />
        <LengthField label="Kerf" of="piece.glue.kerf" mm={p.kerf ?? 0} onChange={(kerf) => set({ kerf })} />
      </Row>
      {chevron ? (
        <fieldset className="lay-ups">
          <legend>Lay-up</legend>
          {[false, true].map((staggered) => {
            const mine = (p.staggered ?? false) === staggered;
            const slices = mine ? parts.slices : other;
            return (
              <button
                key={String(staggered)}
                type="button"
                className={mine ? "is-chosen" : ""}
                aria-pressed={mine}
                onClick={() => set({ staggered })}
              >
                <strong>{staggered ? "Staggered" : "Square"}</strong>
                <span className="facts">{slices && lay(slices)}</span>
              </button>
            );
          })}
        </fieldset>
      ) : (
        <>
          <p className="facts">{lay(parts.slices)}</p>
          <Tick
            label="Every other slice is turned end for end"
            value={p.reversed ?? false}
            onChange={(reversed) => set({ reversed })}
          />
        </>
      )}
      {chevron && (
        <Tick label="Its strips stand on edge" value={p.raised ?? false} onChange={(raised) => set({ raised })} />
      )}
    </>
  );
}

/** Arrange changes all strips at one go. */
function Arrange({ panel, parts, edit }: Pick<Props, "panel" | "parts" | "edit">) {
  const { tables, shop } = useWorkshop();
  const [width, setWidth] = useState(300);
  const [long, setLong] = useState(380);
  const [repeat, setRepeat] = useState("");
  const known = [...(shop.species ?? []).map((s) => s.name), ...tables.species.map((s) => s.name)];
  const named = repeat
    .split(",")
    .map((w) => w.trim().toLowerCase())
    .filter((w) => w !== "")
    .map((w) => known.find((n) => n.toLowerCase() === w));
  const arrange = useMutation({
    mutationFn: (how: Omit<Arranging, "panel">) => unwrap(api.POST("/api/panels/arrange", { body: { panel, ...how } })),
    onSuccess: (next, how) => edit(() => next, `arrange-${how.how}`),
  });
  const does = (how: Omit<Arranging, "panel">) => () => arrange.mutate(how);
  return (
    <>
      <h3>All at once</h3>
      <div className="arrange">
        <LengthField label="As wide as" mm={width} least={10} most={2000} onChange={setWidth} />
        <Button size="sm" variant="outline-primary" onClick={does({ how: "width", width })}>
          Count strips for it
        </Button>
        <LengthField label="Finished length" mm={long} least={30} most={4000} onChange={setLong} />
        <Button size="sm" variant="outline-primary" onClick={does({ how: "lengths", length: long })}>
          Cut all for it
        </Button>
      </div>
      <TextField
        label="A repeat, species by species"
        placeholder="Pear, Robinia, Pear, Hornbeam"
        value={repeat}
        onChange={setRepeat}
      />
      {parts.kept && (
        <Choice
          label="Patterns used before"
          value=""
          options={[
            { value: "", label: "–" },
            ...parts.kept.map((k, i) => ({ value: String(i), label: `${k.name}: ${k.species.join(", ")}` })),
          ]}
          onChange={(i) => setRepeat(parts.kept?.[Number(i)]?.species.join(", ") ?? "")}
        />
      )}
      <div className="d-flex gap-2 flex-wrap">
        <Button
          size="sm"
          variant="outline-primary"
          disabled={named.length === 0 || named.some((n) => n === undefined)}
          onClick={does({ how: "repeat", repeat: named as string[] })}
        >
          Repeat it
        </Button>
        <Button size="sm" variant="outline-primary" onClick={does({ how: "mirror" })}>
          Mirror the left half
        </Button>
        <Button size="sm" variant="outline-primary" onClick={does({ how: "order" })}>
          Propose an order
        </Button>
      </div>
      <Wrong error={arrange.error} />
    </>
  );
}

/** Spares are the strips that are cut besides. */
function Spares({ panel, parts, edit }: Pick<Props, "panel" | "parts" | "edit">) {
  const { length } = useWorkshop();
  const spares = panel.spares ?? [];
  const spare = useMutation({
    mutationFn: () => unwrap(api.POST("/api/panels/arrange", { body: { panel, how: "spares" } })),
    onSuccess: (next) => edit(() => next, "spares"),
  });
  return (
    <>
      <h3>Spare strips</h3>
      <p className="facts">
        {spares.length === 0 ? "None. " : `${spares.map((s) => `${s.species} ${length(s.width)}`).join(", ")}. `}
        The rule asks for {parts.spareRule}.
      </p>
      <div className="d-flex gap-2">
        <Button size="sm" variant="outline-primary" disabled={spare.isPending} onClick={() => spare.mutate()}>
          Cut as many as the rule asks for
        </Button>
        {spares.length > 0 && (
          <Button
            size="sm"
            variant="outline-secondary"
            onClick={() => edit((p) => ({ ...p, spares: [] }), "no-spares")}
          >
            None
          </Button>
        )}
      </div>
      <Wrong error={spare.error} />
    </>
  );
}
