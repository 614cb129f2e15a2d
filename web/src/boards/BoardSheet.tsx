// A board's sheet: the story stick across, the wood in the middle, the
// stage's reckoning at the right.
import { named } from "../api/asking";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { memo, useCallback, useEffect, useMemo, useRef, useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import {
  api,
  storing,
  unwrap,
  type Board,
  type Node,
  type Remedy,
  type Sheet,
  type Reckoned,
  type Reckoning,
  type Wood,
} from "../api/client";
import { Away } from "../kit/away";
import { useDocument, useUndoKeys, type Doc } from "../kit/document/useDocument";
import { showMinutes } from "../kit/length";
import { merge } from "../kit/merge";
import { useArrived } from "../kit/arrived";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { StoryStick, useStages } from "../kit/stick";
import { useTitle } from "../kit/title";
import { Figures, LevelMark, Verdicts } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { BoardDrawing } from "./BoardDrawing";
import { CardDrawing } from "./CardDrawing";
import { FlattenDrawing } from "./FlattenDrawing";
import { Chooser } from "./finish/Chooser";
import { Calendar } from "./Calendar";
import { drawnInPanel, type PanelProps } from "./panel";
import { NoPanel, panels } from "./panels";
import type { Shaping } from "./shape/lines";
import { Sections } from "./shape/Sections";
import { ShapeDrawing } from "./shape/ShapeDrawing";
import { ShapePanel, shapeParts } from "./shape/ShapePanel";

// What is judged where the board is laid out, and decided by its shape.
const drawnInShape = new Set(["web", "neck", "waist"]);

export default function BoardSheet() {
  const { id = "" } = useParams();
  const sheet = useQuery({
    queryKey: ["board", id],
    queryFn: () => unwrap(api.GET("/api/boards/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  const arrived = useArrived(sheet);
  if (!arrived) return <Away of={sheet} />;
  return <Editor key={arrived.board.id} sheet={arrived} />;
}

/** useBoard opens the document of a board. */
function useBoard(sheet: Sheet) {
  const client = useQueryClient();
  const path = { id: sheet.board.id };
  return useDocument({
    name: `board ${sheet.board.id}`,
    doc: sheet.board,
    version: sheet.version,
    result: sheet.reckoning,
    newest: useMemo(() => ({ doc: sheet.board, version: sheet.version }), [sheet]),
    draft: (board) => unwrap(api.POST("/api/boards/{id}/draft", { params: { path }, body: board })),
    whenQuiet: (board) =>
      unwrap(api.POST("/api/boards/{id}/draft", { params: { path, query: { weigh: true } }, body: board })),
    save: async (board, version, name) => {
      const saved = await storing(
        api.PUT("/api/boards/{id}", { ...named(name), params: { path }, body: { version, board } }),
      );
      if ("stored" in saved) return saved;
      void client.invalidateQueries({ queryKey: ["boards"] });
      void client.invalidateQueries({ queryKey: ["bench"] });
      return { version: saved.data.version };
    },
  });
}

function Editor({ sheet }: { sheet: Sheet }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const { stages, nameOf } = useStages();
  const stage = stages.includes(query.get("stage") ?? "") ? query.get("stage")! : "layout";
  const setStage = useCallback((s: string) => setQuery({ stage: s }), [setQuery]);
  const [woodRef, byKey] = useDrawingFocus(stage, setStage);
  const d = useBoard(sheet);
  useUndoKeys(d);
  useTitle(`${d.doc.name}, ${nameOf(stage)}`, 1);
  const [flipped, setFlipped] = useState(false);
  const [picked, pick] = useState("");
  const [line, setLine] = useState<Node[]>([]);
  const [held, hold] = useState<Board | null>(null);
  const asked = query.get("part") ?? "";
  const part = stage === "fit" ? "" : asked in shapeParts ? asked : "outline";
  const newest = useRef(d.doc);
  useEffect(() => {
    newest.current = d.doc;
  });
  const onDragging = useCallback((dragging: boolean) => hold(dragging ? newest.current : null), []);
  const shaping: Shaping = useMemo(
    () => ({ part, picked, pick, line, setLine, onDragging }),
    [part, picked, line, onDragging],
  );
  const openPart = useCallback(
    (to: string) => {
      pick("");
      setQuery({ stage: "shape", part: to });
    },
    [setQuery],
  );
  const bin = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/boards/{id}", { params: { path: { id: sheet.board.id } } })),
    onSuccess: () => {
      void client.invalidateQueries();
      void navigate("/boards");
    },
  });
  const { mutate } = bin;
  const toBin = useCallback(() => mutate(), [mutate]);
  const change = d.set;
  const set: PanelProps["set"] = useCallback((part, kind = "") => change((now) => merge(now, part), kind), [change]);
  // While a grip is dragged the panel waits, so that the drag is not held up by
  // it. What is typed is never put off.
  const calm = held ?? d.doc;
  const r = d.result.boards[0];
  const wood = d.result.slab!;
  const onRemedy = useCallback((remedy: Remedy) => change((now) => merge(now, remedy.patch)), [change]);
  const Panel = panels[stage] ?? NoPanel;
  const stored = d.version();
  const panel: PanelProps = useMemo(
    () => ({
      stored,
      board: calm,
      set,
      r,
      wood,
      sheet,
      change,
      replace: (ladder) => change((now) => ({ ...now, sand: { ...now.sand, ladder } })),
      applyPatch: (patch) => change((now) => merge(now, patch)),
    }),
    [stored, calm, set, r, wood, sheet, change],
  );
  return (
    <div className="work">
      <Head doc={d} r={r} set={set} onGive={() => setStage("give")} id={sheet.board.id} />
      <SaveNotice doc={d} />
      <StoryStick notches={r.stick} active={stage} onPick={setStage} />
      <div className={`work-body ${stage === "shape" || stage === "fit" ? "shape-stage" : ""}`}>
        <section className="work-wood" aria-label="The wood" ref={woodRef}>
          <StageDrawing
            doc={d}
            sheet={sheet}
            shaping={shaping}
            flipped={flipped}
            onFlip={() => setFlipped(!flipped)}
            onStage={byKey}
            stage={stage}
          />
          <Under r={r} wood={wood} stage={stage} onStage={setStage} onRemedy={onRemedy}>
            {stage === "finish" && <Chooser board={calm} change={change} />}
          </Under>
        </section>
        <section className="work-panel" id="stage-panel" role="tabpanel" aria-labelledby={`stage-${stage}`}>
          {stage === "shape" ? (
            <ShapePanel
              {...panel}
              shaping={shaping}
              onPart={openPart}
              version={d.version}
              ready={d.state.kind === "saved"}
            />
          ) : (
            <Panel {...panel} />
          )}
          {stage === "give" && (
            <Button size="sm" variant="outline-secondary" className="mt-3" onClick={toBin}>
              To the offcut bin
            </Button>
          )}
        </section>
      </div>
    </div>
  );
}

interface StageProps {
  doc: ReturnType<typeof useBoard>;
  sheet: Sheet;
  shaping: Shaping;
  stage: string;
  flipped: boolean;
  onFlip: () => void;
  onStage: (stage: string) => void;
}

/** StageDrawing is the drawing as the stage sees it. */
function StageDrawing({ doc: d, sheet, shaping, stage, flipped, onFlip, onStage }: StageProps) {
  const [onSlab, setOnSlab] = useState(false); // under Flatten and Give: the slab instead of the section or the card
  const { light, dark } = d.result.slab!.species;
  if (stage === "shape" || stage === "fit")
    return (
      <ShapeDrawing
        doc={d}
        shaping={shaping}
        slabName={sheet.pieceName}
        flipped={flipped}
        onFlip={onFlip}
        onStage={onStage}
        ground={flipped !== d.doc.placement.flip ? sheet.underGround : sheet.showGround}
      />
    );
  if (stage === "flatten" && !onSlab)
    return (
      <FlattenDrawing
        r={d.result.boards[0]}
        light={light}
        dark={dark}
        onStage={onStage}
        onSlab={() => setOnSlab(true)}
      />
    );
  if (stage === "give" && !onSlab)
    return (
      <CardDrawing
        id={sheet.board.id}
        version={d.version()}
        saved={d.state.kind === "saved"}
        onStage={onStage}
        onSlab={() => setOnSlab(true)}
      />
    );
  return (
    <BoardDrawing
      doc={d}
      onSection={stage === "flatten" || stage === "give" ? () => setOnSlab(false) : undefined}
      others={sheet.others}
      slabName={sheet.pieceName}
      flipped={flipped}
      onFlip={onFlip}
      onStage={onStage}
      stage={stage}
    />
  );
}

/** useDrawingFocus keeps the focus on the drawing when a key there changes the stage, and with it the drawing. */
function useDrawingFocus(stage: string, setStage: (stage: string) => void) {
  const wood = useRef<HTMLElement>(null);
  const pressed = useRef(false);
  useEffect(() => {
    if (!pressed.current) return;
    pressed.current = false;
    let frame = 0;
    const focus = () => {
      const drawing = wood.current?.querySelector<HTMLElement>("svg[tabindex], .flatten-views");
      if (drawing) drawing.focus();
      else frame = requestAnimationFrame(focus); // it is drawn once its place is measured
    };
    focus();
    return () => cancelAnimationFrame(frame);
  }, [stage]);
  const byKey = useCallback(
    (to: string) => {
      pressed.current = true;
      setStage(to);
    },
    [setStage],
  );
  return [wood, byKey] as const;
}

/** TakeAlong is what of a board can be taken to the shop. */
const TakeAlong = memo(function TakeAlong({ id, paper }: { id: string; paper: string }) {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" id="take-along">
        Take to the shop
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item href={`/api/boards/${id}/sheet.pdf?paper=A4`} download>
          Shop sheet, A4
        </Dropdown.Item>
        <Dropdown.Item href={`/api/boards/${id}/sheet.pdf?paper=Letter`} download>
          Shop sheet, Letter
        </Dropdown.Item>
        {["A4", "Letter", "A3", "Tabloid"].map((sheet) => (
          <Dropdown.Item key={sheet} href={`/api/boards/${id}/template.pdf?paper=${sheet}`} download>
            Template 1:1, {sheet}
          </Dropdown.Item>
        ))}
        <Dropdown.Item href={`/api/boards/${id}/template.pdf?paper=${paper}&half=true`} download>
          Half a template, {paper}
        </Dropdown.Item>
        <Dropdown.Item href={`/api/boards/${id}/template.pdf?paper=Whole`} download>
          Template on one page
        </Dropdown.Item>
        <Dropdown.Item href={`/api/boards/${id}/outline.svg`} download>
          Outline 1:1, SVG
        </Dropdown.Item>
        <Dropdown.Item href={`/api/boards/${id}/outline.dxf`} download>
          Outline 1:1, DXF
        </Dropdown.Item>
        <Dropdown.Item href={`/api/boards/${id}/job.json`} download>
          Job file, JSON
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
});

interface HeadProps {
  doc: Doc<Board, Reckoning>;
  id: string;
  r: Reckoned;
  set: PanelProps["set"];
  onGive: () => void;
}

/** Head is what the board is called, how it stands, and when it must be begun. */
function Head({ doc: d, id, r, set, onGive }: HeadProps) {
  const { shop, time } = useWorkshop();
  const { course } = r;
  return (
    <header className="page-head">
      <Link to="/boards" className="back">
        Boards
      </Link>
      <h1>
        <input
          className="title-field"
          aria-label="Name of the board"
          value={d.doc.name}
          onChange={(e) => set({ name: e.target.value }, "name")}
        />
      </h1>
      <LevelMark level={r.level} />
      <SaveMark doc={d} />
      <UndoButtons doc={d} />
      <button type="button" className={`due ${course.late ? "late" : ""}`} onClick={onGive}>
        {due(course, time)}
      </button>
      <span className="ms-auto d-flex gap-2 align-items-center">
        <Link className="went-wrong" to={`/boards/${id}/rescue`} title="Something went wrong">
          A mishap?
        </Link>
        <TakeAlong id={id} paper={shop.paper} />
      </span>
    </header>
  );
}

interface UnderProps {
  r: Reckoned;
  wood: Wood;
  stage: string;
  onStage: (stage: string) => void;
  onRemedy: (remedy: Remedy) => void;
  children?: ReactNode;
}

/** Under the drawing stand the figures and verdicts of the stage, and what is to settle elsewhere. */
function Under({ r, wood, stage, onStage, onRemedy, children }: UnderProps) {
  const { nameOf } = useStages();
  // Kept while only the document changes, so that a drag draws no list again.
  const verdicts = useMemo(
    () => r.verdicts.filter((v) => v.stage === stage || (stage === "shape" && drawnInShape.has(v.check))),
    [r, stage],
  );
  const figures = useMemo(
    () => [
      ...r.figures.filter((f) => f.stage === stage && !drawnInPanel.has(f.key)),
      ...(stage === "wood" ? wood.figures.filter((f) => f.key !== "wood.movement") : []),
    ],
    [r, wood, stage],
  );
  const elsewhere = r.verdicts.filter((v) => !verdicts.includes(v) && v.level === "stop");
  return (
    <div className="under-drawing">
      <div>
        {(stage === "shape" || stage === "fit") && (
          <Sections sections={r.shape.sections} light={wood.species.light} dark={wood.species.dark} />
        )}
        <Figures figures={figures} />
      </div>
      <div>
        {stage === "give" && <Calendar course={r.course} />}
        <Verdicts verdicts={verdicts} onRemedy={onRemedy} />
        {elsewhere.length > 0 && (
          <p className="facts">
            Also to settle:{" "}
            {elsewhere.map((v, i) => (
              <button key={i} type="button" className="text-link" onClick={() => onStage(v.stage)}>
                {nameOf(v.stage)}: {v.finding}
              </button>
            ))}
          </p>
        )}
      </div>
      {children}
    </div>
  );
}

/** due says when the board is ready, or must be begun. */
function due(course: Reckoned["course"], time: (at: string, withTime?: boolean) => string): string {
  if (!course.due) return course.finish ? `Ready ${time(course.finish, false)} at the earliest` : "Give it a date";
  if (course.late) return `Too late by ${showMinutes(-course.slack)}`;
  const spare = `${showMinutes(course.slack)} to spare`;
  return course.latestStart ? `Start by ${time(course.latestStart, false)}, ${spare}` : spare;
}
