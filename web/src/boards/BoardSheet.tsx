// A board's sheet: the story stick across, the wood in the middle, the
// stage's reckoning at the right.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Dropdown from "react-bootstrap/Dropdown";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, say, unwrap, type Remedy, type Sheet } from "../api/client";
import { useDocument, useUndoKeys } from "../kit/document";
import { showMinutes } from "../kit/length";
import { merge } from "../kit/merge";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { stageNames, stages, StoryStick } from "../kit/stick";
import { Figures, LevelMark, Verdicts } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { BoardDrawing } from "./BoardDrawing";
import { Calendar } from "./Calendar";
import { drawnInPanel, panels, type PanelProps } from "./panels";

export default function BoardSheet() {
  const { id = "" } = useParams();
  const sheet = useQuery({ queryKey: ["board", id], queryFn: () => unwrap(api.GET("/api/boards/{id}", { params: { path: { id } } })), gcTime: 0 });
  if (!sheet.data) return sheet.error ? <p className="empty">{say(sheet.error)}</p> : null;
  return <Editor key={id} sheet={sheet.data} />;
}

function Editor({ sheet }: { sheet: Sheet }) {
  const { time } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const stage = stages.includes(query.get("stage") ?? "") ? query.get("stage")! : "layout";
  const setStage = (s: string) => setQuery({ stage: s }, { replace: true });
  const path = { id: sheet.board.id };
  const d = useDocument({
    doc: sheet.board,
    version: sheet.version,
    result: sheet.reckoning,
    draft: (board) => unwrap(api.POST("/api/boards/{id}/draft", { params: { path }, body: board })),
    save: async (board, version) => {
      const saved = await unwrap(api.PUT("/api/boards/{id}", { params: { path }, body: { version, board } }));
      void client.invalidateQueries({ queryKey: ["boards"] });
      void client.invalidateQueries({ queryKey: ["bench"] });
      return saved.version;
    },
  });
  useUndoKeys(d);
  const [flipped, setFlipped] = useState(false);
  const bin = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/boards/{id}", { params: { path } })),
    onSuccess: () => {
      void client.invalidateQueries();
      void navigate("/boards");
    },
  });
  const r = d.result.boards[0];
  const wood = d.result.slab!;
  const set: PanelProps["set"] = (change, kind = "") => d.set((now) => merge(now, change), kind);
  const onRemedy = (remedy: Remedy) => d.set((now) => merge(now, remedy.patch));
  const Panel = panels[stage];
  const course = r.course;
  const verdicts = r.verdicts.filter((v) => v.stage === stage);
  const figures = r.figures.filter((f) => f.stage === stage && !drawnInPanel.has(f.key));
  const elsewhere = r.verdicts.filter((v) => v.stage !== stage && v.level === "stop");
  return (
    <div className="work">
      <header className="page-head">
        <Link to="/boards" className="back">
          Boards
        </Link>
        <h1>
          <input className="title-field" aria-label="Name of the board" value={d.doc.name} onChange={(e) => set({ name: e.target.value }, "name")} />
        </h1>
        <LevelMark level={r.level} />
        <SaveMark doc={d} />
        <UndoButtons doc={d} />
        <button type="button" className={`due ${course.late ? "late" : ""}`} onClick={() => setStage("give")}>
          {!course.due
            ? course.finish
              ? `Ready ${time(course.finish, false)} at the earliest`
              : "Give it a date"
            : course.late
              ? `Too late by ${showMinutes(-course.slack)}`
              : course.latestStart
                ? `Start by ${time(course.latestStart, false)}, ${showMinutes(course.slack)} to spare`
                : `${showMinutes(course.slack)} to spare`}
        </button>
        <span className="ms-auto d-flex gap-2">
          <Dropdown align="end">
            <Dropdown.Toggle size="sm" id="take-along">
              Take to the shop
            </Dropdown.Toggle>
            <Dropdown.Menu>
              <Dropdown.Item href={`/api/boards/${sheet.board.id}/sheet.pdf?paper=A4`} download>
                Shop sheet, A4
              </Dropdown.Item>
              <Dropdown.Item href={`/api/boards/${sheet.board.id}/sheet.pdf?paper=Letter`} download>
                Shop sheet, Letter
              </Dropdown.Item>
              <Dropdown.Item href={`/api/boards/${sheet.board.id}/outline.svg`} download>
                Outline 1:1, SVG
              </Dropdown.Item>
              <Dropdown.Item href={`/api/boards/${sheet.board.id}/job.json`} download>
                Job file, JSON
              </Dropdown.Item>
              <Dropdown.Divider />
              <Dropdown.Item as="button" onClick={() => bin.mutate()}>
                To the offcut bin
              </Dropdown.Item>
            </Dropdown.Menu>
          </Dropdown>
        </span>
      </header>
      <SaveNotice doc={d} />
      <StoryStick notches={r.stick} active={stage} onPick={setStage} />
      <div className="work-body">
        <section className="work-wood" aria-label="The wood">
          <BoardDrawing doc={d} others={sheet.others} slabName={sheet.pieceName} flipped={flipped} onFlip={() => setFlipped(!flipped)} onStage={setStage} stage={stage} />
          <div className="under-drawing">
            <div>
              <Figures figures={[...figures, ...(stage === "wood" ? wood.figures.filter((f) => f.key !== "wood.movement") : [])]} />
            </div>
            <div>
              {stage === "give" && <Calendar course={course} />}
              <Verdicts verdicts={verdicts} onRemedy={onRemedy} />
              {elsewhere.length > 0 && (
                <p className="facts">
                  Also to settle:{" "}
                  {elsewhere.map((v, i) => (
                    <button key={i} type="button" className="text-link" onClick={() => setStage(v.stage)}>
                      {stageNames[v.stage]}: {v.finding}
                    </button>
                  ))}
                </p>
              )}
            </div>
          </div>
        </section>
        <section className="work-panel" id="stage-panel" role="tabpanel" aria-labelledby={`stage-${stage}`}>
          <Panel board={d.doc} set={set} r={r} wood={wood} sheet={sheet} replace={(ladder) => d.set((now) => ({ ...now, sand: { ...now.sand, ladder } }))} applyPatch={(patch) => d.set((now) => merge(now, patch))} />
        </section>
      </div>
    </div>
  );
}
