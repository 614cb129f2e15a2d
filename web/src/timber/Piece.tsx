// One piece of wood: measured at the right, drawn at the left as one types.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useNavigate, useParams } from "react-router";
import { api, say, unwrap, type Piece, type Slab } from "../api/client";
import { Dimension, FlipButton } from "../kit/drawing";
import { cut, editor, put, useDocument, useUndoKeys, type Edit } from "../kit/document";
import { Choice, LengthField, NumberField, Row, TextField, Tick } from "../kit/fields";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { Figures, Verdicts } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { FlawDrawing } from "./FlawDrawing";
import { Flaws, flawKinds } from "./Flaws";
import { MoistureChart } from "./MoistureChart";

export default function PiecePlace() {
  const { id = "" } = useParams();
  const piece = useQuery({ queryKey: ["piece", id], queryFn: () => unwrap(api.GET("/api/pieces/{id}", { params: { path: { id } } })), gcTime: 0 });
  if (!piece.data) return piece.error ? <p className="empty">{say(piece.error)}</p> : null;
  return <Editor key={piece.data.id} piece={piece.data} />;
}

function Editor({ piece }: { piece: Piece }) {
  const { length, time } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const path = { id: piece.id };
  const d = useDocument({
    doc: piece.slab,
    version: piece.version,
    result: piece.wood,
    draft: (slab) => unwrap(api.POST("/api/pieces/draft", { body: slab })),
    save: async (slab, version) => {
      const saved = await unwrap(api.PUT("/api/pieces/{id}", { params: { path }, body: { version, slab } }));
      void client.invalidateQueries({ queryKey: ["pieces"] });
      return saved.version;
    },
  });
  useUndoKeys(d);
  const [flipped, setFlipped] = useState(false);
  const [tool, setTool] = useState<string>("");
  const [picked, setPicked] = useState<string>("");
  const s = d.doc;
  const set = editor(d);
  const bin = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/pieces/{id}", { params: { path } })),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate("/timber");
    },
  });
  const lay = useMutation({
    mutationFn: () => unwrap(api.POST("/api/boards", { body: { piece: piece.id, name: `Board from ${s.name}` } })),
    onSuccess: (sheet) => navigate(`/boards/${sheet.board.id}`),
  });
  return (
    <div className="work">
      <header className="page-head">
        <Link to="/timber" className="back">
          Timber
        </Link>
        <h1>{s.name || "Unnamed piece"}</h1>
        <SaveMark doc={d} />
        <UndoButtons doc={d} />
        <span className="ms-auto d-flex gap-2 flex-wrap">
          {piece.boards.map((b) => (
            <Link key={b.id} to={`/boards/${b.id}`} className="btn btn-sm btn-outline-primary">
              {b.name}
            </Link>
          ))}
          <Button size="sm" onClick={() => lay.mutate()}>
            Lay a board on it
          </Button>
          <Button size="sm" variant="outline-secondary" onClick={() => bin.mutate()}>
            To the offcut bin
          </Button>
        </span>
      </header>
      <SaveNotice doc={d} />
      {(bin.error ?? lay.error) && (
        <p className="wrong px-3" role="alert">
          {say(bin.error ?? lay.error)}
        </p>
      )}
      <div className="work-body">
        <section className="work-wood" aria-label="The wood">
          <div className="tools" role="toolbar" aria-label="Mark on the wood">
            <Dropdown onSelect={(k) => setTool(k ?? "")}>
              <Dropdown.Toggle size="sm" variant={tool ? "primary" : "outline-primary"} id="flaw-tool">
                {tool ? `Mark: ${flawKinds[tool]}` : "Mark a flaw"}
              </Dropdown.Toggle>
              <Dropdown.Menu>
                {Object.entries(flawKinds).map(([k, name]) => (
                  <Dropdown.Item key={k} eventKey={k}>
                    {name}
                  </Dropdown.Item>
                ))}
                <Dropdown.Divider />
                <Dropdown.Item eventKey="">Stop marking</Dropdown.Item>
              </Dropdown.Menu>
            </Dropdown>
            <FlipButton flipped={flipped} onFlip={() => setFlipped(!flipped)} />
            <span className="hint">{tool ? "Drag on the wood: where it starts to where it ends, or from its middle outward." : "The butt end is at the left, the chalk line runs along."}</span>
          </div>
          <FlawDrawing slab={s} wood={d.result} flipped={flipped} tool={tool} picked={picked} onPick={setPicked} onFlip={() => setFlipped(!flipped)} onDone={() => setTool("")} doc={d}>
            {(view) => {
              const from = view.toScreen({ x: 0, y: flipped ? d.result.maxY : d.result.minY });
              const to = view.toScreen({ x: s.length, y: flipped ? d.result.maxY : d.result.minY });
              return (
                <>
                  <Dimension from={from} to={to} text={length(s.length)} off={16} />
                  {s.show.map((st) => {
                    const p = view.toScreen({ x: st.x, y: st.left });
                    const q = view.toScreen({ x: st.x, y: st.right });
                    return <path key={st.x} className="station" d={`M${p.x} ${p.y}L${q.x} ${q.y}`} />;
                  })}
                  {s.readings.map((r, i) => {
                    const p = view.toScreen(r);
                    return (
                      <text key={i} className="reading" x={p.x} y={p.y}>
                        {length(r.thickness)}
                      </text>
                    );
                  })}
                </>
              );
            }}
          </FlawDrawing>
          <div className="under-drawing">
            <div>
              <Figures figures={d.result.figures} />
            </div>
            <div>
              <MoistureChart log={s.moisture} wood={d.result} />
              <Drying wood={d.result} />
              <Verdicts verdicts={d.result.verdicts} />
            </div>
          </div>
        </section>
        <section className="work-panel" aria-label="Measures">
          <h2>What it is</h2>
          <TextField label="Name" value={s.name} onChange={(name) => set({ name }, "name")} />
          <Species value={s.species} onChange={(species) => set({ species })} />
          <SpeciesFacts wood={d.result} />
          <Row>
            <LengthField label="Length" name="length" mm={s.length} least={20} onChange={(v) => set({ length: v }, "length")} />
            <NumberField label="Price" value={s.priceCents / 100} least={0} most={1e7} onChange={(v) => set({ priceCents: Math.round(v * 100) }, "price")} />
          </Row>
          <Stations slab={s} set={set} face={flipped ? "under" : "show"} />
          <h2>Thickness</h2>
          {s.readings.map((r, i) => (
            <Row key={i}>
              <LengthField label="From the butt" hideLabel={i > 0} mm={r.x} onChange={(x) => set((now) => ({ readings: put(now.readings, i, { x }) }), `reading-${i}`)} />
              <LengthField label="Thick" hideLabel={i > 0} mm={r.thickness} onChange={(thickness) => set((now) => ({ readings: put(now.readings, i, { thickness }) }), `reading-${i}`)} />
              <RemoveButton what={`reading ${i + 1}`} disabled={s.readings.length < 2} onClick={() => set((now) => ({ readings: cut(now.readings, i) }))} />
            </Row>
          ))}
          <Button size="sm" variant="outline-primary" onClick={() => set((now) => ({ readings: [...now.readings, { x: Math.round(now.length / 2), y: 0, thickness: now.readings.at(-1)?.thickness ?? 30 }] }))}>
            Add a reading
          </Button>
          <Row>
            <LengthField label="Hollow" mm={s.hollow} onChange={(hollow) => set({ hollow }, "hollow")} />
            <LengthField label="Wind" mm={s.wind} onChange={(wind) => set({ wind }, "wind")} />
            <NumberField label="Rings to the face" unit="°" value={s.ringAngle} least={0} most={90} onChange={(ringAngle) => set({ ringAngle }, "rings")} />
          </Row>
          <h2>Moisture</h2>
          {s.moisture.map((m, i) => (
            <Row key={i}>
              <span className="field flex-grow-1">{time(m.at, false)}</span>
              <NumberField label="Moisture" unit="%" hideLabel value={m.percent} least={0.5} most={200} step={0.1} onChange={(percent) => set((now) => ({ moisture: put(now.moisture, i, { percent }) }), `moisture-${i}`)} />
              <Tick label="below range" value={m.below} onChange={(below) => set((now) => ({ moisture: put(now.moisture, i, { below }) }))} />
              <RemoveButton what={`moisture reading ${i + 1}`} onClick={() => set((now) => ({ moisture: cut(now.moisture, i) }))} />
            </Row>
          ))}
          <NewMoisture onAdd={(m) => set((now) => ({ moisture: [...now.moisture, m].sort((a, b) => a.at.localeCompare(b.at)) }))} />
          <h2>Style</h2>
          <Tick label="Left edge is live" value={s.liveLeft} onChange={(liveLeft) => set({ liveLeft })} />
          <Tick label="Right edge is live" value={s.liveRight} onChange={(liveRight) => set({ liveRight })} />
          <Choice label="Ends" value={s.naturalEnds ? "natural" : "square"} options={[{ value: "square", label: "to be squared" }, { value: "natural", label: "kept as found" }]} onChange={(v) => set({ naturalEnds: v === "natural" })} />
          <Choice label="Thickness may stay" value={s.uneven ? "uneven" : "even"} options={[{ value: "even", label: "even: it is flattened" }, { value: "uneven", label: "uneven: it is only sanded" }]} onChange={(v) => set({ uneven: v === "uneven" })} />
          <Tick label="Reclaimed, of unknown treatment" value={s.reclaimed} onChange={(reclaimed) => set({ reclaimed })} />
          <Flaws slab={s} set={set} picked={picked} onPick={setPicked} />
          <h2>Notes</h2>
          <TextField label="Notes" hideLabel rows={3} value={s.notes} onChange={(notes) => set({ notes }, "notes")} />
        </section>
      </div>
    </div>
  );
}

function Species({ value, onChange }: { value: string; onChange: (v: string) => void }) {
  const { tables } = useWorkshop();
  return <TextField label="Species" value={value} list={tables.species.map((s) => s.name)} onChange={onChange} />;
}

function SpeciesFacts({ wood }: { wood: Piece["wood"] }) {
  const s = wood.species;
  return (
    <p className="facts">
      <em>{s.botanical}</em>, {s.group}, {s.density} kg/m³, Janka {s.janka} N, {s.pores === "none" ? "no pores" : `${s.pores} pores`}
      {s.note && `; ${s.note}`}
      {s.dust !== "ordinary" && `; dust: ${s.dust}`}
    </p>
  );
}

function Drying({ wood }: { wood: Piece["wood"] }) {
  const d = wood.drying;
  if (wood.ready) return null;
  const text = !d.known
    ? "Two readings on different days are needed before a trend is claimed."
    : d.never
      ? `The shop's air would bring it to ${d.emc.toFixed(1)} %: it will not get there here. Warm or dry the room, or store it where it will live.`
      : d.days > 0
        ? `At this pace it reaches the home's band in ${Math.round(d.low)} to ${Math.round(d.high)} days. Milled thinner it dries sooner.`
        : "";
  return text ? <p className="facts">{text}</p> : null;
}

/** Stations edits the edges of the face that lies up; a live edge slopes, so that the under face may have its own. */
function Stations({ slab: s, set, face }: { slab: Slab; set: Edit<Slab>; face: "show" | "under" }) {
  const [single, setSingle] = useState(false);
  const list = s[face] ?? [];
  const edit = (to: (list: Slab["show"]) => Slab["show"], kind = "") => set((now) => ({ [face]: to(now[face] ?? []) }), kind);
  const change = (i: number, part: Partial<Slab["show"][number]>) => edit((l) => put(l, i, part), `${face}-${i}`);
  const add = () => {
    // Into the widest gap, level with its neighbours.
    const ends = [...list.map((o) => o.x), s.length];
    let at = 0;
    for (let i = 1; i < ends.length; i++) if (ends[i] - ends[i - 1] > (ends[at + 1] ?? 0) - (ends[at] ?? 0)) at = i - 1;
    const last = at === list.length - 1;
    const a = list[at];
    const b = list[last ? at : at + 1];
    const x = last ? s.length : Math.round((a.x + b.x) / 2);
    if (list.some((o) => o.x === x)) return;
    const next = { x, left: Math.round((a.left + b.left) / 2), right: Math.round((a.right + b.right) / 2) };
    edit((l) => [...l, next].sort((p, q) => p.x - q.x));
  };
  if (list.length === 0) {
    return (
      <>
        <h2>Stations of the under face</h2>
        <p className="facts">Its edges are taken to lie under those of the show face.</p>
        <Button size="sm" variant="outline-primary" onClick={() => edit(() => s.show)}>
          Measure the under face too
        </Button>
      </>
    );
  }
  return (
    <>
      <div className="d-flex align-items-end justify-content-between">
        <h2>{face === "under" ? "Stations of the under face" : "Stations"}</h2>
        <Tick label="one width" value={single} onChange={setSingle} />
      </div>
      {list.map((st, i) => (
        <Row key={`${face}-${i}`}>
          <LengthField label="From the butt" name={`station-${i}-x`} hideLabel={i > 0} mm={st.x} onChange={(x) => change(i, { x })} />
          {single ? (
            <LengthField label="Width" hideLabel={i > 0} mm={st.left - st.right} onChange={(w) => change(i, { left: w / 2, right: -w / 2 })} />
          ) : (
            <>
              <LengthField label="Left edge" name={`station-${i}-left`} hideLabel={i > 0} signed mm={st.left} onChange={(left) => change(i, { left })} />
              <LengthField label="Right edge" name={`station-${i}-right`} hideLabel={i > 0} signed mm={st.right} onChange={(right) => change(i, { right })} />
            </>
          )}
          <RemoveButton what={`station ${i + 1}`} disabled={list.length < 2} onClick={() => edit((l) => cut(l, i))} />
        </Row>
      ))}
      <div className="d-flex gap-2">
        <Button size="sm" variant="outline-primary" onClick={add}>
          Add a station
        </Button>
        {face === "under" && (
          <Button size="sm" variant="outline-secondary" onClick={() => edit(() => [])}>
            The same as the show face
          </Button>
        )}
      </div>
    </>
  );
}

function NewMoisture({ onAdd }: { onAdd: (m: Slab["moisture"][number]) => void }) {
  const today = () => new Date().toISOString().slice(0, 10);
  const [day, setDay] = useState(today);
  const [percent, setPercent] = useState(10);
  return (
    <Row>
      <div className="field">
        <label className="form-label" htmlFor="moisture-day">
          Day
        </label>
        <input id="moisture-day" className="form-control form-control-sm" type="date" max={today()} value={day} onChange={(e) => setDay(e.target.value)} />
      </div>
      <NumberField label="Meter" unit="%" value={percent} least={0.5} most={200} step={0.1} onChange={setPercent} />
      <Button size="sm" variant="outline-primary" className="align-self-end mb-1" disabled={day === ""} onClick={() => onAdd({ at: `${day}T12:00:00Z`, percent, below: false })}>
        Add
      </Button>
    </Row>
  );
}

export function RemoveButton({ what, onClick, disabled = false }: { what: string; onClick: () => void; disabled?: boolean }) {
  return (
    <button type="button" className="remove" aria-label={`Remove ${what}`} disabled={disabled} onClick={onClick}>
      ×
    </button>
  );
}
