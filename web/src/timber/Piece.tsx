// One piece of wood: drawn at the left as one types, its parts at the right.
import { named } from "../api/asking";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, storing, unwrap, type Panel, type Piece, type Slab, type Wood } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { editor, useDocument, useUndoKeys, type Doc, type Edit } from "../kit/document/useDocument";
import { Dimension, FlipButton, type View } from "../kit/drawing";
import { Tick } from "../kit/fields";
import { merge } from "../kit/merge";
import { Parts, Wrong } from "../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { Figures, LevelMark, Verdicts } from "../kit/verdicts";
import { useTitle } from "../kit/title";
import { useWorkshop } from "../kit/workshop";
import { Faces } from "./Faces";
import { Features } from "./Features";
import { Flaws } from "./Marks";
import { DryingWords, Moisture } from "./Moisture";
import { MoistureChart } from "./MoistureChart";
import { OnIt } from "./OnIt";
import { Outline } from "./Outline";
import { PieceDrawing } from "./PieceDrawing";
import { ClampUp } from "./panel/ClampUp";
import { PanelDrawing, Stages, whole, type Stage } from "./panel/PanelDrawing";
import { Strips } from "./panel/Strips";
import { useStrips } from "./panel/useStrips";
import { RiverDrawing, keys } from "./river/RiverDrawing";
import { MouldPart, RiverPart } from "./river/RiverPart";
import { useBanks } from "./river/useBanks";
import { Resaw, Thickness } from "./Thickness";
import type { Layer } from "./useMarking";
import { What } from "./What";

export default function PiecePlace() {
  const { id = "" } = useParams();
  const piece = useQuery({
    queryKey: ["piece", id],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  const arrived = useArrived(piece);
  if (!arrived) return <Away of={piece} />;
  return <Editor key={arrived.id} piece={arrived} />;
}

const parts = {
  what: "Wood",
  outline: "Edges",
  marks: "Faces",
  thickness: "Thickness",
  moisture: "Moisture",
  boards: "Laid",
} as const;
const panelParts = {
  strips: "Strips",
  clamps: "Glue-up",
  marks: "Faces",
  thickness: "Thickness",
  moisture: "Moisture",
  what: "Wood",
  boards: "Laid",
} as const;
const riverParts = {
  river: "River",
  mould: "Mould",
  moisture: "Moisture",
  what: "Wood",
  boards: "Laid",
} as const;
type Part = keyof typeof parts | keyof typeof panelParts | keyof typeof riverParts;

/** partsOf are the parts of a piece, the first of which is open when none is asked for. */
const partsOf = (wood: Wood) => (wood.river ? riverParts : wood.parts ? panelParts : parts) as Record<Part, string>;

const layers: Partial<Record<Part, Layer>> = { outline: "nodes", thickness: "readings" };

/** usePiece opens the document of a piece. */
function usePiece(piece: Piece) {
  const client = useQueryClient();
  const path = { id: piece.id };
  return useDocument({
    name: `piece ${piece.id}`,
    doc: piece.slab,
    version: piece.version,
    result: piece.wood,
    newest: useMemo(() => ({ doc: piece.slab, version: piece.version }), [piece]),
    draft: (slab) => unwrap(api.POST("/api/pieces/{id}/draft", { params: { path }, body: slab })),
    save: async (slab, version, name) => {
      const saved = await storing(
        api.PUT("/api/pieces/{id}", { ...named(name), params: { path }, body: { version, slab } }),
      );
      if ("stored" in saved) return saved;
      void client.invalidateQueries({ queryKey: ["pieces"] });
      return { version: saved.data.version };
    },
  });
}

function Editor({ piece }: { piece: Piece }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const path = { id: piece.id };
  const d = usePiece(piece);
  useUndoKeys(d);
  useTitle(d.doc.name, 1);
  const place = usePlace(d.result);
  const { part, first, setSearch } = place;
  const [flipped, setFlipped] = useState(place.under);
  const [tool, setTool] = useState<string>("");
  const [picked, setPicked] = useState<string>("");
  const [stage, setStage] = useState<Stage>("whole");
  const before = useState(piece.wood.boards)[0];
  const s = d.doc;
  const wood = d.result;
  const layer = layers[part] ?? "marks";
  const flip = () => setFlipped(!flipped);
  // A mark that is made or picked on the wood has its fields at hand.
  const pick = (id: string) => {
    setPicked(id);
    if (id && layer === "marks" && part !== "marks") setSearch({ part: "marks" }, { replace: true });
  };
  const go = (to: Part) => {
    setPicked("");
    setTool("");
    setSearch(to === first ? {} : { part: to }, { replace: true });
  };
  const onStrips = useStrips({
    doc: d,
    picked,
    onPick: setPicked,
    onFlip: flip,
    live: !wood.parts || whole(wood.parts, stage),
  });
  const onBanks = useBanks({ doc: d, picked, onPick: setPicked, onFlip: flip, flipped });
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
  const turn = useMutation({
    mutationFn: () => unwrap(api.POST("/api/pieces/{id}/turn", { params: { path }, body: { version: d.version() } })),
    onSuccess: (now) => {
      client.setQueryData(["piece", piece.id], now);
      setFlipped(false);
    },
  });
  const wrong = bin.error ?? lay.error ?? turn.error;
  return (
    <div className="work piece-page">
      <Head piece={piece} doc={d} onLay={() => lay.mutate()} onBin={() => bin.mutate()} />
      <SaveNotice doc={d} />
      <div className="px-3">
        <Wrong error={wrong} />
      </div>
      <div className="work-body">
        <section className="work-wood" aria-label="The wood">
          <OnBench
            part={part}
            doc={d}
            flipped={flipped}
            onFlip={flip}
            tool={tool}
            onTool={setTool}
            picked={picked}
            onPick={pick}
            stage={stage}
            onStage={setStage}
            onStrips={onStrips}
            onBanks={onBanks}
          />
          <Touched before={before} now={wood.boards} />
          <div className="under-drawing">
            <div>
              <Figures figures={wood.figures} />
            </div>
            <div>
              <MoistureChart log={s.moisture} wood={wood} />
              <DryingWords wood={wood} />
              <Verdicts
                verdicts={wood.verdicts}
                on={wood.river ? "piece" : "panel"}
                onRemedy={(r) => d.set((now) => merge(now, r.patch))}
              />
            </div>
          </div>
        </section>
        <section className="work-panel" aria-label="Measures">
          <Parts parts={place.parts} open={part} onOpen={go} />
          <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
            <PartOf
              part={part}
              piece={piece}
              doc={d}
              flipped={flipped}
              picked={picked}
              onPick={setPicked}
              turn={turn}
              edit={onStrips.edit}
              onBanks={onBanks}
            />
          </div>
        </section>
      </div>
    </div>
  );
}

/** usePlace is where in its parts a piece is open, by the address. */
function usePlace(wood: Wood) {
  const [search, setSearch] = useSearchParams();
  const parts = partsOf(wood);
  const first = Object.keys(parts)[0] as Part;
  const asked = search.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : first;
  return { parts, first, part, under: search.get("face") === "under", setSearch };
}

interface BenchProps {
  part: Part;
  doc: Doc<Slab, Wood>;
  flipped: boolean;
  onFlip: () => void;
  tool: string;
  onTool: (tool: string) => void;
  picked: string;
  onPick: (id: string) => void;
  /** What is drawn of a panel that is cut again. */
  stage: Stage;
  onStage: (stage: Stage) => void;
  onStrips: ReturnType<typeof useStrips>;
  onBanks: ReturnType<typeof useBanks>;
}

/** gluingOf is the panel whose strips are open. */
const gluingOf = (part: Part, s: Slab, wood: Wood) =>
  (part === "strips" || part === "clamps") && wood.parts ? s.glue : undefined;

/** marksOf is what can be marked on the wood. */
function marksOf(part: Part): "flaws" | "reading" | "" {
  if (part === "thickness") return "reading";
  return (layers[part] ?? "marks") === "marks" ? "flaws" : "";
}

/** OnBench is the wood as it lies, with what marks it; a panel with its strips. */
function OnBench(o: BenchProps) {
  const { part, doc: d, flipped, tool, picked } = o;
  const [bare, setBare] = useState(false);
  const [oiled, setOiled] = useState(false);
  const [s, wood] = [d.doc, d.result];
  const layer = layers[part] ?? "marks";
  const ground = (flipped ? s.underLook : s.showLook)?.ground;
  const gluing = gluingOf(part, s, wood);
  const marks = gluing || wood.river ? "" : marksOf(part);
  return (
    <>
      <Toolbar
        marks={marks}
        tool={tool}
        onTool={o.onTool}
        flipped={flipped}
        onFlip={o.onFlip}
        chosen={s.showChosen ?? false}
        hint={wood.river ? keys : gluing && "Drag a strip to another place; [ and ] pick one, t turns it, r rolls it."}
      >
        {ground && <Tick label="photograph" value={!bare} onChange={(v) => setBare(!v)} />}
        {(wood.parts ?? wood.pattern) && <Tick label="oiled" value={oiled} onChange={setOiled} />}
        {gluing && wood.parts?.first && <Stages stage={o.stage} onStage={o.onStage} />}
      </Toolbar>
      {wood.river && s.river ? (
        <RiverDrawing slab={s} wood={wood} of={wood.river} flipped={flipped} picked={picked} on={o.onBanks}>
          {(view) => <OnWood slab={s} wood={wood} flipped={flipped} view={view} />}
        </RiverDrawing>
      ) : gluing && wood.parts ? (
        <PanelDrawing
          name={s.name}
          panel={gluing}
          wood={wood}
          parts={wood.parts}
          stage={o.stage}
          flipped={flipped}
          picked={picked}
          oiled={oiled}
          on={o.onStrips}
        >
          {(view) => <OnWood slab={s} wood={wood} flipped={flipped} view={view} />}
        </PanelDrawing>
      ) : (
        <PieceDrawing
          slab={s}
          wood={wood}
          flipped={flipped}
          layer={layer}
          tool={tool}
          picked={picked}
          oiled={oiled}
          ground={bare ? undefined : ground}
          onPick={o.onPick}
          onFlip={o.onFlip}
          onDone={() => o.onTool("")}
          doc={d}
        >
          {(view) => <OnWood slab={s} wood={wood} flipped={flipped} view={view} />}
        </PieceDrawing>
      )}
    </>
  );
}

/** Tools chooses what is marked next. */
function Tools({ tool, onTool }: { tool: string; onTool: (t: string) => void }) {
  const { tables } = useWorkshop();
  const marked = [...tables.flaws, ...tables.features].find((m) => m.kind === tool);
  return (
    <Dropdown onSelect={(k) => onTool(k ?? "")}>
      <Dropdown.Toggle size="sm" variant={tool ? "primary" : "outline-primary"} id="flaw-tool">
        {marked ? `Mark: ${marked.name}` : "Mark a flaw"}
      </Dropdown.Toggle>
      <Dropdown.Menu>
        {tables.flaws.map(({ kind: k, name }) => (
          <Dropdown.Item key={k} eventKey={k}>
            {name}
          </Dropdown.Item>
        ))}
        <Dropdown.Divider />
        <Dropdown.Header>Worth showing</Dropdown.Header>
        {tables.features.map(({ kind: k, name }) => (
          <Dropdown.Item key={k} eventKey={k}>
            {name}
          </Dropdown.Item>
        ))}
        <Dropdown.Divider />
        <Dropdown.Item eventKey="">Stop marking</Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}

/** Touched names the boards that have changed with the wood since the piece was opened. */
function Touched({ before, now }: { before: Wood["boards"]; now: Wood["boards"] }) {
  const { value, words } = useWorkshop();
  const changed = now.flatMap((b) => {
    const was = before.find((o) => o.id === b.id);
    if (!was || (was.level === b.level && was.worst === b.worst && Math.abs(was.voids - b.voids) < 0.05)) return [];
    return [{ b, was }];
  });
  if (changed.length === 0) return null;
  return (
    <ul className="touched" role="status" aria-label="Boards that this changes">
      {changed.map(({ b, was }) => (
        <li key={b.id}>
          <LevelMark level={b.level} /> <Link to={`/boards/${b.id}`}>{b.name}</Link>
          <span className="facts">
            {b.worst !== was.worst && b.worst ? words(b.worst) : ""}{" "}
            {Math.abs(was.voids - b.voids) >= 0.05 && `voids ${value(was.voids, "ml")} → ${value(b.voids, "ml")}`}
            {Math.abs(was.resin - b.resin) >= 0.05 &&
              `, resin to mix ${value(was.resin, "ml")} → ${value(b.resin, "ml")}`}
          </span>
        </li>
      ))}
    </ul>
  );
}

/** sourceOf names the way to a piece that this one is of. */
function sourceOf(piece: Piece, i: number): string {
  if (!piece.wood.parts) return "What it was part of";
  return piece.sources.length > 1 ? `Made of ${i + 1}` : "Made of";
}

interface HeadProps {
  piece: Piece;
  doc: Doc<Slab, Wood>;
  onLay: () => void;
  onBin: () => void;
}

/** Head is what the piece is called, and what can be done with it. */
function Head({ piece, doc: d, onLay, onBin }: HeadProps) {
  return (
    <header className="page-head">
      <Link to="/timber" className="back">
        Timber
      </Link>
      <h1>{d.doc.name || "Unnamed piece"}</h1>
      <SaveMark doc={d} />
      <UndoButtons doc={d} />
      <span className="ms-auto d-flex gap-2 flex-wrap">
        {piece.sources.map((from, i) => (
          <Link key={from} to={`/timber/${from}`} className="btn btn-sm btn-outline-primary">
            {sourceOf(piece, i)}
          </Link>
        ))}
        <a className="btn btn-sm btn-outline-primary" href={`/api/rack/labels.pdf?piece=${piece.id}`} download>
          Label
        </a>
        {piece.wood.parts && (
          <>
            <a className="btn btn-sm btn-outline-primary" href={`/api/pieces/${piece.id}/panel.pdf`} download>
              Panel sheet
            </a>
            <a className="btn btn-sm btn-outline-primary" href={`/api/pieces/${piece.id}/strips.pdf`} download>
              Strip labels
            </a>
          </>
        )}
        {!piece.cut && (
          <>
            <Button size="sm" onClick={onLay}>
              Lay a board on it
            </Button>
            {!piece.wood.parts && !piece.wood.river && (
              <Link to={`/timber/${piece.id}/river`} className="btn btn-sm btn-outline-primary">
                A river of it
              </Link>
            )}
            <Link to={`/timber/${piece.id}/layout`} className="btn btn-sm btn-outline-primary">
              Lay out
            </Link>
          </>
        )}
        <Button size="sm" variant="outline-secondary" onClick={onBin}>
          To the offcut bin
        </Button>
      </span>
    </header>
  );
}

interface ToolbarProps {
  /** What can be marked on the wood here. */
  marks: "flaws" | "reading" | "";
  tool: string;
  onTool: (tool: string) => void;
  flipped: boolean;
  onFlip: () => void;
  /** The face that shows was chosen. */
  chosen: boolean;
  hint?: string;
  children: ReactNode;
}

/** hintOf tells what a press on the wood does. */
function hintOf(tool: string): string {
  if (tool === "reading") return "Press where it was measured.";
  if (tool) return "Drag along it, or from corner to corner of the box it fills.";
  return "The butt end is at the left, the chalk line runs along.";
}

/** Toolbar chooses what is marked, and which face lies up. */
function Toolbar({ marks, tool, onTool, flipped, onFlip, chosen, hint, children }: ToolbarProps) {
  return (
    <div className="tools" role="toolbar" aria-label="Mark on the wood">
      {marks === "reading" && (
        <Button size="sm" variant={tool ? "primary" : "outline-primary"} onClick={() => onTool(tool ? "" : "reading")}>
          Place a reading
        </Button>
      )}
      {marks === "flaws" && <Tools tool={tool} onTool={onTool} />}
      <FlipButton flipped={flipped} onFlip={onFlip} />
      {children}
      <span className="face-mark">
        {flipped ? "Under face" : "Show face"}
        {!flipped && chosen && ", chosen"}
      </span>
      <span className="hint">{hint ?? hintOf(tool)}</span>
    </div>
  );
}

/** OnWood are the length, the stations and the boards over the wood. */
function OnWood({ slab: s, wood, flipped, view }: { slab: Slab; wood: Wood; flipped: boolean; view: View }) {
  const { length } = useWorkshop();
  const low = flipped ? wood.maxY : wood.minY;
  return (
    <>
      <Dimension
        from={view.toScreen({ x: 0, y: low })}
        to={view.toScreen({ x: wood.length, y: low })}
        text={length(wood.length)}
        off={16}
      />
      {(wood.parts || wood.river ? [] : ((flipped ? s.under : undefined) ?? s.show)).map((st) => {
        const p = view.toScreen({ x: st.x, y: st.left });
        const q = view.toScreen({ x: st.x, y: st.right });
        return <path key={st.x} className="station" d={`M${p.x} ${p.y}L${q.x} ${q.y}`} />;
      })}
      {(wood.reserved ?? []).map((t) => (
        <Ghost key={t.panel + t.strip} path={t.path} className="ghost-strip" flipped={flipped} view={view} />
      ))}
      {wood.boards.map((b) => (
        <Ghost key={b.id} path={b.path} className="ghost-board" flipped={flipped} view={view} />
      ))}
    </>
  );
}

/** Ghost is what lies on the wood, in its outline only. */
function Ghost({ path, className, flipped, view }: { path: string; className: string; flipped: boolean; view: View }) {
  const o = view.toScreen({ x: 0, y: 0 });
  return (
    <g
      transform={`translate(${o.x} ${o.y}) scale(${view.scale} ${flipped ? view.scale : -view.scale})`}
      pointerEvents="none"
    >
      <path d={path} className={className} vectorEffect="non-scaling-stroke" />
    </g>
  );
}

/** Measured tells whether a panel goes by its own readings, or by its strips. */
function Measured({ slab: s, set }: { slab: Slab; set: Edit<Slab> }) {
  return (
    <>
      <p className="facts">Its thickness follows from its strips until it is measured when it is glued.</p>
      <Tick
        label="It was measured when it was glued"
        value={s.glue?.measured ?? false}
        onChange={(measured) => set((now) => (now.glue ? { glue: { ...now.glue, measured } } : {}))}
      />
    </>
  );
}

interface ThicknessProps {
  piece: Piece;
  slab: Slab;
  wood: Wood;
  set: Edit<Slab>;
  version: () => number;
  ready: boolean;
}

/** ThicknessPart is how thick the piece is, and how it may be resawn: a panel when it is glued. */
function ThicknessPart({ piece, slab: s, wood, set, version, ready }: ThicknessProps) {
  const glued = !wood.parts || wood.parts.state === "ready";
  return (
    <>
      {wood.parts && <Measured slab={s} set={set} />}
      {(!wood.parts || s.glue?.measured) && <Thickness slab={s} wood={wood} set={set} />}
      {!piece.cut && glued && <Resaw id={piece.id} slab={s} wood={wood} set={set} version={version} ready={ready} />}
    </>
  );
}

interface PartProps {
  part: Part;
  piece: Piece;
  doc: Doc<Slab, Wood>;
  flipped: boolean;
  picked: string;
  onPick: (id: string) => void;
  /** Turns the piece over. */
  turn: { isPending: boolean; mutate: () => void };
  edit: (change: (p: Panel) => Panel, step: string) => void;
  onBanks: ReturnType<typeof useBanks>;
}

/** RiverOf is the part of a river that is open. */
function RiverOf({ part, ...props }: { part: Part } & Parameters<typeof RiverPart>[0]) {
  if (part === "river") return <RiverPart {...props} />;
  return part === "mould" ? <MouldPart {...props} /> : null;
}

/** PartOf is the part of the panel that is open. */
function PartOf({ part, piece, doc: d, flipped, picked, onPick, turn, edit, onBanks }: PartProps) {
  const [s, wood, set, ready] = [d.doc, d.result, editor(d), d.state.kind === "saved"];
  return (
    <>
      {wood.river && s.river && (
        <RiverOf part={part} doc={d} of={wood.river} picked={picked} onPick={onPick} on={onBanks} />
      )}
      {part === "strips" && s.glue && wood.parts && (
        <Strips panel={s.glue} parts={wood.parts} picked={picked} onPick={onPick} edit={edit} />
      )}
      {part === "clamps" && s.glue && wood.parts && <ClampUp panel={s.glue} parts={wood.parts} edit={edit} />}
      {part === "what" && <What slab={s} wood={wood} set={set} />}
      {part === "outline" && (
        <Outline id={piece.id} slab={s} set={set} flipped={flipped} picked={picked} onPick={onPick} />
      )}
      {part === "marks" && (
        <>
          <Flaws slab={s} wood={wood} flipped={flipped} set={set} picked={picked} onPick={onPick} />
          <Features slab={s} flipped={flipped} set={set} picked={picked} onPick={onPick} />
          <Faces slab={s} set={set} turning={turn.isPending || !ready} onTurn={() => turn.mutate()} />
        </>
      )}
      {part === "thickness" && (
        <ThicknessPart piece={piece} slab={s} wood={wood} set={set} version={d.version} ready={ready} />
      )}
      {part === "moisture" && <Moisture id={piece.id} slab={s} wood={wood} set={set} />}
      {part === "boards" && <OnIt piece={piece} wood={wood} version={d.version} ready={ready} />}
    </>
  );
}
