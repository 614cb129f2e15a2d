// Thickness, from the rough to the sanded board, and how it is milled.
import { useState } from "react";
import type { Reckoned } from "../api/client";
import { Choice, LengthField } from "../kit/fields";
import { showFine, showMinutes } from "../kit/length";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { thicknesses, type PanelProps } from "./panel";

export function FlattenPanel({ board: b, r, set }: PanelProps) {
  const { length } = useWorkshop();
  const rungs = r.figures.filter((f) => thicknesses.has(f.key));
  return (
    <>
      <h2>Thickness</h2>
      <LengthField
        label="Wanted in the end"
        name="thickness"
        of="board.design.thickness"
        mm={b.design.thickness}
        onChange={(thickness) => set({ design: { thickness } }, "thickness")}
      />
      <ol className="ladder" aria-label="Thickness from rough to sanded">
        {rungs.map((f) => (
          <li key={f.key}>
            <Working
              figure={f}
              line={
                <>
                  <span className="rung-name">{f.label}</span>
                  <span className="bar" style={{ width: `${(f.value / Math.max(1, r.budget.rough)) * 52}%` }} />
                  <strong>{length(f.value)}</strong>
                </>
              }
            />
          </li>
        ))}
      </ol>
      <Choice
        label="Its faces"
        value={b.cut.faces ?? ""}
        options={[
          { value: "", label: "flat, and of one thickness" },
          { value: "flat", label: "only flat: the thickness may vary" },
          { value: "sand", label: "flat already: only sand them" },
        ]}
        onChange={(faces) => set({ cut: { faces } })}
      />
      {r.course.steps.some((s) => s.key === "live-edge") && <Bark board={b} r={r} set={set} />}
      {b.cut.faces !== "sand" && <Milling board={b} r={r} set={set} />}
      <Sizes sizes={r.milling.sizes} />
    </>
  );
}

type Part = Pick<PanelProps, "board" | "r" | "set">;

/** Bark is what is left of it on each live edge, and what cleans it. */
function Bark({ board: b, r, set }: Part) {
  const { words } = useWorkshop();
  const left = [
    { value: "" as const, label: "off entirely" },
    { value: "inner" as const, label: "off down to the inner bark" },
    { value: "kept" as const, label: "kept: it sheds" },
  ];
  const step = r.course.steps.find((s) => s.key === "live-edge");
  const both = r.makes.filter((m) => m.work === "live edge").length > 1;
  return (
    <>
      <h2>Live edge</h2>
      <Choice
        label={both ? "Bark on its left edge" : "Bark on the live edge"}
        value={b.cut.bark ?? ""}
        options={left}
        onChange={(bark) => set({ cut: { bark } })}
      />
      {both && (
        <Choice
          label="Bark on its right edge"
          value={b.cut.barkRight ?? ""}
          options={[
            { value: "" as const, label: "as on the left" },
            { value: "off" as const, label: "off entirely" },
            { value: "inner" as const, label: "off down to the inner bark" },
            { value: "kept" as const, label: "kept: it sheds" },
          ]}
          onChange={(barkRight) => set({ cut: { barkRight } })}
        />
      )}
      {step && (
        <p className="facts">
          {words(step.detail)}, {showMinutes(step.minutes)}. Before the shape and before resin.
        </p>
      )}
    </>
  );
}

/** Milling is how it is made flat, what else would do it, and each pass with its setting. */
function Milling({ board: b, r, set }: Part) {
  const { length, words } = useWorkshop();
  const planing = r.course.steps.find((s) => s.key === "flatten");
  const { by, others, first } = r.milling;
  const [cutFirst, wholeFirst] = first;
  const took = (minutes: number) => (minutes > 0 ? `, ${showMinutes(minutes)}` : "");
  const named = (m: typeof by) => `${m.method}${took(m.minutes)}${m.fits ? "" : ": not with your tools"}`;
  const said = (f: (typeof first)[number]) => `${length(f.flat)} left${took(f.minutes)}`;
  return (
    <>
      <h2>Milling</h2>
      <Choice
        label="Order"
        value={b.cut.flattenWhole ? "whole" : "cut"}
        options={[
          { value: "cut", label: `blank first: ${said(cutFirst)}` },
          { value: "whole", label: `whole slab first: ${said(wholeFirst)}` },
        ]}
        onChange={(v) => set({ cut: { flattenWhole: v === "whole" } })}
      />
      <Choice
        label="With"
        value={b.cut.method ?? ""}
        options={[
          { value: "", label: "what is proposed" },
          ...[by, ...others].map((m) => ({
            value: m.method,
            label: named(m),
          })),
        ]}
        onChange={(method) => set({ cut: { method } })}
      />
      <p className="facts">
        {planing ? (
          <>
            <strong>{by.method}</strong>: {words(by.why)}. {words(by.order)}, {showMinutes(planing.minutes)} hands-on.
          </>
        ) : (
          "Nothing is planed off."
        )}
      </p>
      {planing && others.length > 0 && (
        <details className="ways">
          <summary>What else would do it, and what keeps it from doing it</summary>
          <ul className="plain-list">
            {others.map((m) => (
              <li key={m.method}>
                <strong>{m.method}</strong>
                {m.minutes > 0 && `, ${showMinutes(m.minutes)}`}: {words(m.why)}
              </li>
            ))}
          </ul>
        </details>
      )}
      {planing && by.passes.length > 0 && (
        <>
          <LengthField
            label="Bite of your own, nothing for the table's"
            of="board.cut.bite"
            mm={b.cut.bite ?? 0}
            onChange={(bite) => set({ cut: { bite } }, "bite")}
          />
          <Passes by={by} />
        </>
      )}
    </>
  );
}

/** Passes is the list of passes, each with the setting of the machine. */
function Passes({ by }: { by: Reckoned["milling"]["by"] }) {
  const { unit } = useWorkshop();
  const [open, setOpen] = useState(false);
  const fine = (mm: number) => showFine(mm, unit);
  const turned = by.passes.some((p) => (p.turns ?? 0) > 0);
  return (
    <details className="ways" open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{by.passes.length} passes, each with its setting</summary>
      {open && (
        <table className="passes">
          <thead>
            <tr>
              <th scope="col">Pass</th>
              <th scope="col">Cuts</th>
              <th scope="col">Bite</th>
              <th scope="col">Set to</th>
              {turned && <th scope="col">Crank</th>}
            </tr>
          </thead>
          <tbody>
            {by.passes.map((p, i) => (
              <tr key={i}>
                <td>
                  {i + 1}, {p.machine}
                </td>
                <td>{p.face}</td>
                <td>{fine(p.bite)}</td>
                <td>{fine(p.setting)}</td>
                {turned && <td>{p.turns ? `${p.turns.toFixed(2)} turns` : ""}</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </details>
  );
}

/** Sizes is one table of length, width and thickness, read in both directions. */
function Sizes({ sizes }: { sizes: Reckoned["milling"]["sizes"] }) {
  const { length } = useWorkshop();
  const wanted = sizes.some((s) => (s.wanted ?? 0) > 0);
  return (
    <>
      <h2>Rough and finished</h2>
      <table className="passes">
        <thead>
          <tr>
            <th scope="col">It is</th>
            <th scope="col">Long</th>
            <th scope="col">Wide</th>
            <th scope="col">Thick</th>
            {wanted && <th scope="col">Asked for</th>}
          </tr>
        </thead>
        <tbody>
          {sizes.map((s) => (
            <tr key={s.name} className={(s.wanted ?? 0) > s.thickness + 0.05 ? "short" : undefined}>
              <td>{s.name}</td>
              <td>{length(s.length)}</td>
              <td>{length(s.width)}</td>
              <td>{length(s.thickness)}</td>
              {wanted && <td>{(s.wanted ?? 0) > 0 ? length(s.wanted ?? 0) : ""}</td>}
            </tr>
          ))}
        </tbody>
      </table>
      {wanted && (
        <p className="facts">
          Down the table: what comes of this rough piece. Up: how thick it must be for what you want.
        </p>
      )}
    </>
  );
}
