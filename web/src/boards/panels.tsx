// The reckoning of each stage, beside the wood.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import type { ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type Board, type Reckoned, type Sheet, type Wood } from "../api/client";
import { Choice, LengthField, NumberField, Row, TextField, Tick } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { Figures, Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { FitPanel } from "./FitPanel";
import { HandleFields, handleNames, handleOf } from "./shape/HandlesPart";
import { Dimensions, reshaped, shapeNames } from "./shape/OutlinePart";
import { Stair } from "./Stair";
import { Steps } from "./Steps";

export interface PanelProps {
  board: Board;
  r: Reckoned;
  wood: Wood;
  sheet: Sheet;
  set: (change: DeepPartial<Board>, kind?: string) => void;
  replace: (ladder: number[]) => void;
  applyPatch: (patch: unknown) => void;
  change: (next: (b: Board) => Board, kind?: string) => void;
}

export type DeepPartial<T> = T extends object ? { [K in keyof T]?: DeepPartial<T[K]> } : T;

/** Amounts is a short table of words and numbers. */
export function Amounts({ rows }: { rows: [ReactNode, ReactNode][] }) {
  return (
    <dl className="amounts">
      {rows.map(([k, v], i) => (
        <div key={i}>
          <dt>{k}</dt>
          <dd>{v}</dd>
        </div>
      ))}
    </dl>
  );
}

function WoodPanel({ wood, sheet }: PanelProps) {
  const s = wood.species;
  return (
    <>
      <h2>{s.name}</h2>
      <p>
        <em>{s.botanical}</em>
        {s.note && `; ${s.note}`}
      </p>
      <Amounts
        rows={[
          ["Density", `${s.density} kg/m³`],
          ["Hardness, Janka", `${s.janka} N`],
          ["Bending strength", `${s.mor} MPa along the grain`],
          ["Tension across the grain", `${s.tensionPerp} MPa${s.tensionGuess ? ", estimated" : ""}`],
          ["Pores", s.pores],
          ["Near food", s.food],
          ["Dust", s.dust],
          ["Colour", s.colourChange || "stays"],
          ["Moisture", wood.moisture > 0 ? `${wood.moisture} %; the home's mean is ${wood.homeMean.toFixed(1)} %` : "not read yet"],
        ]}
      />
      <Link className="btn btn-sm btn-outline-primary" to={`/timber/${sheet.piece}`}>
        Measure {sheet.pieceName}
      </Link>
    </>
  );
}

/** The figures that a panel draws itself; the rest stand under the wood. */
export const drawnInPanel = new Set(["flatten.rough", "flatten.flat", "flatten.planed", "flatten.filled", "flatten.final", "handle.off"]);

function LayoutPanel({ board: b, r, wood, sheet, set, change, applyPatch }: PanelProps) {
  const { length } = useWorkshop();
  const d = b.design;
  const design = (part: Partial<Board["design"]> | ((d: Board["design"]) => Partial<Board["design"]>), kind = "") =>
    change((now) => ({ ...now, design: { ...now.design, ...(typeof part === "function" ? part(now.design) : part) } }), kind);
  return (
    <>
      <h2>Board</h2>
      {d.shape === "free" ? (
        <p className="facts">An outline drawn by points: change it under Shape.</p>
      ) : (
        <Choice label="Shape" value={d.shape} options={shapeNames.filter((o) => o.value !== "free")} onChange={(shape) => design(reshaped(b, wood, shape))} />
      )}
      <Dimensions d={d} set={design} />
      <Row>
        <Choice label="For" value={b.give.use} options={["nibbles", "starter", { value: "main", label: "main course" }]} onChange={(use) => set({ give: { use } })} />
        <NumberField label="People" whole value={b.give.people} least={1} most={1000} onChange={(people) => set({ give: { people } }, "people")} />
      </Row>
      <Button size="sm" variant="outline-primary" onClick={() => applyPatch(r.size.patch)}>
        Size it for them: {length(r.size.length)} × {length(r.size.width)}
      </Button>
      <Figures figures={[r.size.working]} />
      <h2>Handle</h2>
      <Choice label="Handle" hideLabel value={d.handle.kind} options={handleNames} onChange={(kind) => design(handleOf(d, kind))} />
      <HandleFields h={d.handle} part={(part, kind = "") => design((now) => ({ handle: { ...now.handle, ...part } }), kind && `handle-${kind}`)} />
      <h2>Place</h2>
      <Link className="btn btn-sm btn-outline-primary mb-2" to={`/timber/${sheet.piece}/layout`}>
        All boards of {sheet.pieceName}
      </Link>
      <Row>
        <LengthField label="From the butt" name="place-x" signed mm={b.placement.x} onChange={(x) => set({ placement: { x } }, "px")} />
        <LengthField label="From the chalk line" name="place-y" signed mm={b.placement.y} onChange={(y) => set({ placement: { y } }, "py")} />
        <NumberField label="Turned" unit="°" value={b.placement.angle} least={-3600} most={3600} onChange={(angle) => set({ placement: { angle } }, "pa")} />
      </Row>
      <Tick label="Its show face is the slab's under face" value={b.placement.flip} onChange={(flip) => set({ placement: { flip } })} />
      <h2>Cutting it out</h2>
      <Row>
        <Choice label="Outline with" value={b.cut.saw} options={["band saw", "jigsaw", "track saw", "table saw", "hand saw"]} onChange={(saw) => set({ cut: { saw } })} />
        <Choice label="Snipe" value={b.cut.snipe} options={[{ value: "allow", label: "cut long" }, { value: "pieces", label: "sacrificial pieces" }, { value: "nose to tail", label: "nose to tail" }]} onChange={(snipe) => set({ cut: { snipe } })} />
      </Row>
    </>
  );
}

function FlattenPanel({ board: b, r, set }: PanelProps) {
  const { length } = useWorkshop();
  const rungs = r.figures.filter((f) => drawnInPanel.has(f.key));
  return (
    <>
      <h2>Thickness</h2>
      <LengthField label="Wanted in the end" name="thickness" mm={b.design.thickness} onChange={(thickness) => set({ design: { thickness } }, "thickness")} />
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
      <Choice label="Order" value={b.cut.flattenWhole ? "whole" : "cut"} options={[{ value: "cut", label: `cut the blank first: ${length(r.budget.most)} at the most` }, { value: "whole", label: `flatten the whole slab first: ${length(r.wholeBudget.most)}` }]} onChange={(v) => set({ cut: { flattenWhole: v === "whole" } })} />
      <p className="facts">
        {r.budget.passes > 0 ? `${r.budget.passes} passes, both faces by turns: ${showMinutes(r.course.steps.find((s) => s.key === "flatten")?.minutes ?? 0)} hands-on.` : "Nothing is planed off."}
      </p>
    </>
  );
}

function GluePanel() {
  return (
    <>
      <h2>Glue</h2>
      <p>This board is cut from one piece, so that nothing is glued.</p>
    </>
  );
}

function FillPanel({ board: b, r, set }: PanelProps) {
  const { value, words } = useWorkshop();
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
              options={v.options.map((o) => ({ value: o.name, label: `${o.name} · ${o.wait > 0 ? showMinutes(o.wait) : "no wait"} · ${o.fits ? "" : "only "}${words(o.reason)}` }))}
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
      {r.mix && (
        <>
          <h2>Resin</h2>
          <Row>
            <Choice label="Kind" value={b.fill.resin} options={["quick", "coating", "casting", "deep pour"]} onChange={(resin) => set({ fill: { resin } })} />
            <Choice label="Measured" value={b.fill.byMass ? "mass" : "volume"} options={[{ value: "volume", label: "by volume" }, { value: "mass", label: "by mass" }]} onChange={(v) => set({ fill: { byMass: v === "mass" } })} />
            <NumberField label="Reserve" unit="ml" value={b.fill.reserve} least={0} most={20000} onChange={(reserve) => set({ fill: { reserve } }, "reserve")} />
          </Row>
          <p className="mix">
            <strong>{value(r.mix.resinG.value, "g")}</strong> resin + <strong>{value(r.mix.hardenerG.value, "g")}</strong> hardener, worked within {showMinutes(r.mix.working)}.
          </p>
        </>
      )}
    </>
  );
}

function SandPanel({ board: b, r, set, replace }: PanelProps) {
  const { shop } = useWorkshop();
  const s = b.sand;
  const ladder = r.sanding.grits;
  const toggle = (g: number) => {
    const next = ladder.includes(g) ? ladder.filter((o) => o !== g) : [...ladder, g].sort((x, y) => x - y);
    if (next.length > 0) replace(next);
  };
  const byHand = (s.ladder ?? []).length > 0;
  return (
    <>
      <h2>Sanding</h2>
      <Row>
        <Choice label="From" value={s.start} options={["old varnish", "band saw", "scraped resin", "planer", "drum P80", "bought surfaced", "hand plane", "sanded P80", "sanded P120", "sanded P150", "sanded P180", "sanded P220"]} onChange={(start) => set({ sand: { start } })} />
        <Choice label="Last grit" value={String(s.last)} options={[...new Set([...shop.grits, s.last])].sort((x, y) => x - y).map((g) => ({ value: String(g), label: `P${g}` }))} onChange={(g) => set({ sand: { last: Number(g) } })} />
        <Choice label="Raise the grain" value={s.raise} options={["once", "twice", "after every grit", "never"]} onChange={(raise) => set({ sand: { raise } })} />
      </Row>
      <Stair plan={r.sanding} />
      <div className="d-flex gap-1 flex-wrap align-items-center" role="group" aria-label="Grits of the ladder">
        {shop.grits.map((g) => (
          <Button key={g} size="sm" variant={ladder.includes(g) ? "primary" : "outline-primary"} aria-pressed={ladder.includes(g)} onClick={() => toggle(g)}>
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
        {r.sanding.raiseAfter.length > 0 && ` Water goes on after ${r.sanding.raiseAfter.map((g) => `P${g}`).join(", ")}.`}
      </p>
      <table className="rungs">
        <thead>
          <tr>
            <th scope="col">Surface</th>
            {ladder.map((g) => (
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
              {ladder.map((g) => {
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

function FinishPanel({ board: b, r, set }: PanelProps) {
  const { tables, value, time } = useWorkshop();
  const school = r.finish.school;
  const food = r.course.steps.findLast((s) => s.restUntil)?.restUntil;
  return (
    <>
      <h2>Finish</h2>
      <Choice label="School" value={b.finish.school} options={tables.schools.map((s) => ({ value: s.name as Board["finish"]["school"], label: s.name }))} onChange={(s) => set({ finish: { school: s, coats: 0 } })} />
      <Row>
        <NumberField label="Coats" whole value={b.finish.coats || school.coats} least={1} most={school.most} onChange={(coats) => set({ finish: { coats } }, "coats")} />
        {r.finish.paste && <NumberField label="Oil to one of wax" value={b.finish.ratio} least={1} most={10} step={0.5} onChange={(ratio) => set({ finish: { ratio } }, "ratio")} />}
      </Row>
      <ol className="cuts">
        {r.finish.coats.map((c, i) => (
          <li key={i}>
            <Working
              figure={c.working}
              line={
                <>
                  <span className="figure-label">{c.product}</span>
                  <strong>{value(c.grams, "g")}</strong>
                </>
              }
            />
            <span className="facts">
              soak {showMinutes(c.soak)}
              {c.buff >= 0 && `, buff ${c.buff > 0 ? `after ${showMinutes(c.buff)}` : "at once"}`}
              {c.wait > 0 && `, next coat after ${showMinutes(c.wait)}`}
            </span>
          </li>
        ))}
      </ol>
      <Amounts rows={[["Ready for food", food ? time(food) : "once the last coat has rested"]]} />
      {school.curing && <p className="facts">Its rags heat themselves and burn: dry them flat outdoors, or keep them under water in a closed metal can.</p>}
    </>
  );
}

function GivePanel({ board: b, r, set, sheet, applyPatch }: PanelProps) {
  const { time } = useWorkshop();
  const client = useQueryClient();
  const given = useMutation({
    mutationFn: () => unwrap(api.POST("/api/boards/{id}/given", { params: { path: { id: b.id } }, body: { given: !sheet.given } })),
    onSuccess: () => client.invalidateQueries(),
  });
  const c = r.course;
  return (
    <>
      <h2>Give</h2>
      <TextField label="For whom" value={b.give.for} onChange={(v) => set({ give: { for: v } }, "for")} />
      <Row>
        <div className="field">
          <label className="form-label" htmlFor="due">
            Ready for food by
          </label>
          <input id="due" className="form-control form-control-sm" type="date" value={b.give.due} onChange={(e) => set({ give: { due: e.target.value } }, "due")} />
        </div>
        <Choice label="For" value={b.give.use} options={["nibbles", "starter", { value: "main", label: "main course" }]} onChange={(use) => set({ give: { use } })} />
        <NumberField label="People" whole value={b.give.people} least={1} most={1000} onChange={(people) => set({ give: { people } }, "people")} />
      </Row>
      <TextField label="Your own words" rows={2} value={b.give.note} onChange={(note) => set({ give: { note } }, "note")} />
      <div className={`plan-sum ${c.late ? "late" : ""}`}>
        {c.unplaced ? (
          <strong>Your sessions do not hold this work. Add sessions in the shop.</strong>
        ) : (
          <>
            <div>
              Earliest finish <strong>{c.finish ? time(c.finish) : "not known"}</strong>
            </div>
            {c.due && (
              <>
                <div>
                  Latest start <strong>{c.latestStart ? time(c.latestStart) : c.done ? "done" : "in the past"}</strong>
                </div>
                <div>
                  <strong>{c.late ? `Too late by ${showMinutes(-c.slack)}` : `${showMinutes(c.slack)} to spare`}</strong>
                </div>
              </>
            )}
            <div className="facts">{showMinutes(c.handsOn)} of work still to do.</div>
          </>
        )}
      </div>
      {r.helps.length > 0 && (
        <div className="helps">
          <strong>What would help</strong>
          {r.helps.map((h, i) => (
            <Button key={i} size="sm" variant="outline-primary" onClick={() => applyPatch(h.patch)}>
              {h.label}: saves {showMinutes(h.saves)}
              {h.enough ? ", in time" : ", still late"}
            </Button>
          ))}
        </div>
      )}
      <h2>Plan</h2>
      <Steps course={c} cautions={r.cautions} />
      <h2>Care note</h2>
      <div className="care">
        {b.give.note && <p>{b.give.note}</p>}
        {r.care.map((line, i) => (
          <p key={i}>{line}</p>
        ))}
      </div>
      <Button size="sm" variant="outline-primary" onClick={() => given.mutate()}>
        {sheet.given ? "Not given after all" : "It is given away"}
      </Button>
    </>
  );
}

export const panels: Record<string, (props: PanelProps) => ReactNode> = {
  wood: WoodPanel,
  layout: LayoutPanel,
  flatten: FlattenPanel,
  glue: GluePanel,
  fill: FillPanel,
  sand: SandPanel,
  finish: FinishPanel,
  fit: FitPanel,
  give: GivePanel,
};
