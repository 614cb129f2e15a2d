// The resin: its kind, its colour, what is mixed, how warm it gets and is kept.
import { useId } from "react";
import type { Board, Mix } from "../../api/client";
import { Choice, ColourField, NumberField, Row, Tick, wordsOf } from "../../kit/fields";
import { showMinutes } from "../../kit/length";
import { useWorkshop } from "../../kit/workshop";
import { HeatCurve } from "./HeatCurve";

type Choices = Board["fill"];

interface Props {
  mix: Mix;
  chosen: Choices;
  choose: (next: Partial<Choices>, kind?: string) => void;
}

export function Resin({ mix, chosen: c, choose: fill }: Props) {
  const { value, tables, words } = useWorkshop();
  return (
    <>
      <h2>Resin</h2>
      <Row>
        <Choice label="Kind" value={c.resin} options={wordsOf(tables.resins)} onChange={(resin) => fill({ resin })} />
        <Choice
          label="Measured"
          value={c.byMass ? "mass" : "volume"}
          options={[
            { value: "volume", label: "by volume" },
            { value: "mass", label: "by mass" },
          ]}
          onChange={(v) => fill({ byMass: v === "mass" })}
        />
        <NumberField
          label="Reserve"
          unit="ml"
          of="board.fill.reserve"
          value={c.reserve}
          onChange={(reserve) => fill({ reserve }, "reserve")}
        />
      </Row>
      <Colour of={c.colour} onChange={(colour, kind) => fill({ colour }, kind)} />
      <p className="mix">
        <strong>{value(mix.resinG.value, "g")}</strong> resin + <strong>{value(mix.hardenerG.value, "g")}</strong>{" "}
        hardener
        {mix.pigmentG > 0 && (
          <>
            {" "}
            + <strong>{value(mix.pigmentG, "g")}</strong> pigment, last
          </>
        )}
        , worked within {showMinutes(mix.working)}.
        {mix.batches > 1 && <> Each pour in {mix.batches} batches: the scale or the cup holds no more.</>}
      </p>
      <HeatCurve warms={mix.warms} />
      {mix.pours > 1 && (
        <>
          <p className="facts">
            {mix.pours} pours, each {showMinutes(mix.between)} after the one before
            {!mix.scuffed && <>, and no later than {showMinutes(mix.tackTo)}</>}.
          </p>
          <Tick
            label="Sand each pour before the next"
            value={c.scuff ?? false}
            onChange={(scuff) => fill({ scuff: scuff || undefined })}
          />
        </>
      )}
      <Tick
        label="In a warm box"
        value={(c.warm ?? 0) > 0}
        onChange={(on) => fill({ warm: on ? mix.boxAt : undefined })}
      />
      {(c.warm ?? 0) > 0 && (
        <>
          <NumberField
            label="Kept at"
            unit="°C"
            of="board.fill.warm"
            least={5}
            value={c.warm!}
            onChange={(warm) => fill({ warm }, "warm")}
          />
          <p className="facts caution">
            {words(
              "A mat that keeps its own heat, never a lamp left alone; no warmer before the pour has passed its peak.",
            )}
          </p>
        </>
      )}
      <Row>
        <Choice
          label="Rounds of pinholes"
          value={String(c.rounds ?? 0)}
          options={[
            { value: "0", label: "as usual" },
            { value: "-1", label: "none left" },
            ...[1, 2, 3, 4, 5, 6].map((n) => ({ value: String(n), label: n === 1 ? "one" : String(n) })),
          ]}
          onChange={(n) => fill({ rounds: Number(n) })}
        />
        <Choice
          label="filled with"
          value={c.dots ?? ""}
          options={[
            { value: "", label: "thin CA, quick" },
            { value: "epoxy", label: "the same resin" },
          ]}
          onChange={(dots) => fill({ dots: dots || undefined })}
        />
      </Row>
    </>
  );
}

type Of = Board["fill"]["colour"];

const hues = ["#1f6f8b", "#2b2b2b", "#f2efe6", "#2f7d4f", "#8a3b2a", "#c9922e"];

/** Colour is what is stirred into the resin. */
function Colour({ of: c, onChange }: { of: Of; onChange: (c: Of, kind?: string) => void }) {
  const { tables } = useWorkshop();
  const id = useId();
  const kind = c?.kind ?? "clear";
  return (
    <>
      <Row>
        <Choice
          label="Colour"
          value={kind}
          options={wordsOf(tables.colours)}
          onChange={(k: NonNullable<Of>["kind"]) =>
            onChange(k === "clear" ? undefined : { ...c, kind: k, hue: c?.hue ?? hues[0] })
          }
        />
        {c && kind !== "clear" && (
          <>
            <ColourField label="Hue" value={c.hue ?? hues[0]} onChange={(hue) => onChange({ ...c, hue }, "hue")} />
            <NumberField
              label="Pigment"
              unit="%"
              of="board.fill.colour.pigment"
              step={0.5}
              value={c.pigment ?? 0}
              onChange={(pigment) => onChange({ ...c, pigment: pigment || undefined }, "pigment")}
            />
          </>
        )}
      </Row>
      {c && kind !== "clear" && (
        <div className="hues" role="group" aria-labelledby={id}>
          <span id={id} className="facts">
            Colours at hand; pigment of 0 is as much as is usual
          </span>
          {hues.map((hue) => (
            <button
              key={hue}
              type="button"
              className={`hue ${hue === c.hue ? "is-on" : ""}`}
              style={{ background: hue }}
              aria-label={`Colour ${hue}`}
              aria-pressed={hue === c.hue}
              onClick={() => onChange({ ...c, hue })}
            />
          ))}
        </div>
      )}
    </>
  );
}
