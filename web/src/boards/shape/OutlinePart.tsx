// The outline: a named shape by its few dimensions, or a line by its points;
// shapes that were kept, files, and what the board was before.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, say, unwrap, type Board, type Design, type End, type FileOutline, type Wood } from "../../api/client";
import { Silhouette } from "../../kit/drawing";
import { Choice, LengthField, NumberField, Row, TextField, Tick } from "../../kit/fields";
import { FilePick, send } from "../../kit/files";
import { useWorkshop } from "../../kit/workshop";
import { PickedNode } from "./Nodes";
import type { Shaping } from "./ShapeDrawing";

export type SetDesign = (change: Partial<Design> | ((d: Design) => Partial<Design>), kind?: string) => void;

export const shapeNames: { value: Design["shape"]; label: string }[] = [
  { value: "rectangle", label: "Soft rectangle" },
  { value: "square", label: "Square plate" },
  { value: "oval", label: "Oval" },
  { value: "circle", label: "Round" },
  { value: "paddle", label: "Paddle" },
  { value: "teardrop", label: "Teardrop" },
  { value: "blade", label: "One end at an angle" },
  { value: "heart", label: "Heart" },
  { value: "half moon", label: "Half moon" },
  { value: "plank", label: "Live-edge plank" },
  { value: "free", label: "Drawn by points" },
];

/** reshaped is what of a design changes with another shape: a plank begins with every natural edge that there is. */
export function reshaped(b: Board, wood: Wood, shape: Design["shape"]): Partial<Design> {
  const d = b.design;
  if (shape === "half moon") return { shape, width: Math.min(d.width, d.length / 2) };
  if (shape === "teardrop" || shape === "heart") return { shape, tip: d.tip ?? 12, shoulder: shape === "heart" ? Math.max(d.shoulder, 12) : d.shoulder };
  if (shape === "blade") return { shape, angle: d.angle ?? 20 };
  if (shape !== "plank" || d.keepLeft || d.keepRight) return { shape };
  const turned = Math.cos((b.placement.angle * Math.PI) / 180) < 0 !== b.placement.flip;
  const live = wood.bark.map((o) => o !== "");
  const [left, right] = turned ? [live[1], live[0]] : live;
  return { shape, keepLeft: left, keepRight: right };
}

/** Dimensions are the few named dimensions of a shape. */
export function Dimensions({ d, set }: { d: Design; set: SetDesign }) {
  const one = d.shape === "circle" || d.shape === "square";
  const cornered = ["rectangle", "square", "paddle", "blade", "half moon"].includes(d.shape);
  return (
    <>
      {d.shape === "plank" && (
        <Row>
          <Tick label="keep the left edge" value={d.keepLeft} onChange={(keepLeft) => set({ keepLeft })} />
          <Tick label="keep the right edge" value={d.keepRight} onChange={(keepRight) => set({ keepRight })} />
        </Row>
      )}
      {d.shape !== "free" && (
        <Row>
          <LengthField label={d.shape === "circle" ? "Diameter" : "Length"} name="board-length" least={30} mm={d.length} onChange={(v) => set({ length: v }, "length")} />
          {!one && <LengthField label={d.shape === "plank" ? "Width if sawn" : "Width"} name="board-width" least={20} mm={d.width} onChange={(v) => set({ width: v }, "width")} />}
          {cornered && <LengthField label="Corners" mm={d.corner} onChange={(v) => set({ corner: v }, "corner")} />}
        </Row>
      )}
      {d.shape === "paddle" && (
        <Row>
          <LengthField label="Neck" mm={d.neck} least={10} onChange={(v) => set({ neck: v }, "neck")} />
          <LengthField label="Neck's length" mm={d.neckLength} least={20} onChange={(v) => set({ neckLength: v }, "neckLength")} />
          <LengthField label="Shoulder" mm={d.shoulder} onChange={(v) => set({ shoulder: v }, "shoulder")} />
        </Row>
      )}
    </>
  );
}

function EndFields({ label, end, onChange }: { label: string; end: End; onChange: (e: End) => void }) {
  const kind = end.kind ?? "";
  return (
    <>
      <Choice
        label={label}
        value={kind}
        options={[
          { value: "", label: "square to its length" },
          { value: "left", label: "square to its left edge" },
          { value: "right", label: "square to its right edge" },
          { value: "angle", label: "at an angle" },
          { value: "curve", label: "curved" },
          { value: "tab", label: "narrowed to a tab" },
        ]}
        onChange={(k) => onChange({ ...end, kind: k, ...(k === "angle" && !end.angle ? { angle: 10 } : {}), ...(k === "curve" && !end.rise ? { rise: 15 } : {}), ...(k === "tab" && !end.width ? { width: 50, length: 90, round: 16 } : {}) })}
      />
      {kind === "angle" && <NumberField label="Angle from square" unit="°" value={end.angle ?? 0} least={-60} most={60} onChange={(angle) => onChange({ ...end, angle })} />}
      {kind === "curve" && <LengthField label="Rise, outward" signed mm={end.rise ?? 0} onChange={(rise) => onChange({ ...end, rise })} />}
      {kind === "tab" && (
        <Row>
          <LengthField label="Tab's width" least={10} mm={end.width ?? 50} onChange={(width) => onChange({ ...end, width })} />
          <LengthField label="Tab's length" least={10} mm={end.length ?? 90} onChange={(length) => onChange({ ...end, length })} />
          <LengthField label="Shoulders" mm={end.round ?? 0} onChange={(round) => onChange({ ...end, round })} />
        </Row>
      )}
    </>
  );
}

interface Props {
  board: Board;
  wood: Wood;
  box: number[];
  set: SetDesign;
  replaceBoard: (b: Board) => void;
  shaping: Shaping;
}

export function OutlinePart({ board, wood, box, set, replaceBoard, shaping }: Props) {
  const d = board.design;
  const [found, setFound] = useState<FileOutline[]>([]);
  const free = useMutation({
    mutationFn: () => unwrap(api.POST("/api/boards/{id}/nodes", { params: { path: { id: board.id } }, body: board })),
    onSuccess: (o) => set({ shape: "free", nodes: o.nodes, half: false }),
  });
  const file = useMutation({ mutationFn: (f: File) => send<FileOutline[]>("/api/outlines", f), onSuccess: (o) => (o.length === 1 ? take(o[0]) : setFound(o)) });
  const take = (o: FileOutline) => {
    setFound([]);
    set({ shape: "free", nodes: o.nodes, half: false, length: Math.max(30, Math.round(o.length)), width: Math.max(20, Math.round(o.width)) });
  };
  const nodes = d.nodes ?? [];
  const scale = (kx: number, ky: number) => set((now) => ({ nodes: (now.nodes ?? []).map((n) => ({ ...n, x: Number((n.x * kx).toFixed(3)), y: Number((n.y * ky).toFixed(3)) })) }), "scale");
  const wrong = free.error ?? file.error;
  return (
    <>
      <Choice label="Shape" value={d.shape} options={shapeNames} onChange={(shape) => (shape === "free" ? free.mutate() : set(reshaped(board, wood, shape)))} />
      <Dimensions d={d} set={set} />
      {(d.shape === "teardrop" || d.shape === "heart") && (
        <Row>
          <LengthField label="Radius of the point" mm={d.tip ?? 0} onChange={(tip) => set({ tip }, "tip")} />
          {d.shape === "heart" && <LengthField label="Radius of the notch" mm={d.shoulder} onChange={(shoulder) => set({ shoulder }, "shoulder")} />}
        </Row>
      )}
      {d.shape === "paddle" && <LengthField label="Corners of the neck's end, 0 for a full round" mm={d.tip ?? 0} onChange={(tip) => set({ tip }, "tip")} />}
      {d.shape === "blade" && <NumberField label="Angle of the end from square" unit="°" value={d.angle ?? 0} least={-60} most={60} onChange={(angle) => set({ angle }, "angle")} />}
      {d.shape === "plank" && (
        <>
          <LengthField label="Follow the natural edges so far inside them" mm={d.inset ?? 0} onChange={(inset) => set({ inset }, "inset")} />
          <EndFields label="Handle end" end={d.handleEnd ?? {}} onChange={(handleEnd) => set({ handleEnd }, "handleEnd")} />
          <EndFields label="Far end" end={d.farEnd ?? {}} onChange={(farEnd) => set({ farEnd }, "farEnd")} />
        </>
      )}
      {d.shape === "free" ? (
        <>
          <Row>
            <LengthField label="Length over all" least={30} mm={box[2] - box[0]} onChange={(v) => scale(v / (box[2] - box[0]), 1)} />
            <LengthField label="Width over all" least={20} mm={box[3] - box[1]} onChange={(v) => scale(1, v / (box[3] - box[1]))} />
          </Row>
          <Tick
            label="Half a template: the other half mirrors it"
            value={d.half ?? false}
            onChange={(half) => {
              if (!half) return set({ half });
              const upper = nodes.filter((n) => n.y > 0).sort((a, b) => b.x - a.x);
              set({ half, nodes: upper.length >= 2 ? upper.map((n) => ({ ...n, run: "" as const, rise: 0 })) : [{ x: d.length / 2, y: 0 }, { x: 0, y: d.width / 2, kind: "smooth" }, { x: -d.length / 2, y: 0 }] });
            }}
          />
          <p className="facts">{nodes.length} points. Drag them, or pick one with [ and ] and use the arrows.</p>
          <PickedNode d={d} line="node" picked={shaping.picked} set={set} />
        </>
      ) : (
        <Button size="sm" variant="outline-primary" onClick={() => free.mutate()}>
          Draw on from this by points
        </Button>
      )}
      <Row>
        <LengthField label="Edges slant in by" mm={d.slant ?? 0} onChange={(slant) => set({ slant }, "slant")} />
        {(d.slant ?? 0) > 0 && <Choice label="Wider face" value={d.wideUnder ? "under" : "show"} options={[{ value: "show", label: "show face" }, { value: "under", label: "under face" }]} onChange={(v) => set({ wideUnder: v === "under" })} />}
      </Row>
      <FilePick label="Outline from a file" accept=".svg,.dxf" busy={file.isPending} onFile={(f) => file.mutate(f)} />
      {found.length > 0 && (
        <div className="kept-shapes" role="group" aria-label="Closed lines in the file">
          {found.slice(0, 12).map((o, k) => (
            <button key={k} type="button" className="kept-shape" onClick={() => take(o)}>
              <Silhouette path={o.path} box={[0, -o.width / 2, o.length, o.width / 2]} light={wood.species.light} dark={wood.species.dark} label="" />
              {o.name || `Line ${k + 1}`}
            </button>
          ))}
        </div>
      )}
      {wrong && (
        <p className="wrong" role="alert">
          {say(wrong)}
        </p>
      )}
      <Kept board={board} wood={wood} set={set} />
      <Versions board={board} wood={wood} replaceBoard={replaceBoard} />
    </>
  );
}

/** Kept are the maker's own templates. */
function Kept({ board, wood, set }: { board: Board; wood: Wood; set: SetDesign }) {
  const client = useQueryClient();
  const [name, setName] = useState("");
  const kept = useQuery({ queryKey: ["templates"], queryFn: () => unwrap(api.GET("/api/templates")) });
  const again = () => void client.invalidateQueries({ queryKey: ["templates"] });
  const keep = useMutation({
    mutationFn: () => unwrap(api.POST("/api/templates", { body: { name: name || board.name, design: board.design } })),
    onSuccess: () => {
      setName("");
      again();
    },
  });
  const drop = useMutation({ mutationFn: (id: string) => unwrap(api.DELETE("/api/templates/{id}", { params: { path: { id } } })), onSuccess: again });
  const wrong = keep.error ?? drop.error;
  return (
    <>
      <h2>Templates</h2>
      {(kept.data ?? []).length > 0 && (
        <div className="kept-shapes">
          {(kept.data ?? []).map((t) => (
            <div key={t.id} className="kept-one">
              <button type="button" className="kept-shape" onClick={() => set((now) => ({ ...t.design, thickness: now.thickness }))}>
                <Silhouette path={t.path} holes={t.holes} box={t.box} light={wood.species.light} dark={wood.species.dark} label="" />
                {t.name}
              </button>
              <button type="button" className="remove" aria-label={`Remove the template ${t.name}`} onClick={() => drop.mutate(t.id)}>
                ×
              </button>
            </div>
          ))}
        </div>
      )}
      <Row>
        <TextField label="Keep this shape as" value={name} placeholder={board.name} onChange={setName} />
        <Button size="sm" variant="outline-primary" className="align-self-end" onClick={() => keep.mutate()}>
          Keep it
        </Button>
      </Row>
      {wrong && (
        <p className="wrong" role="alert">
          {say(wrong)}
        </p>
      )}
    </>
  );
}

/** Versions are what the board was, by date. */
function Versions({ board, wood, replaceBoard }: { board: Board; wood: Wood; replaceBoard: (b: Board) => void }) {
  const { time } = useWorkshop();
  const [open, setOpen] = useState(false);
  const list = useQuery({ queryKey: ["versions", board.id], enabled: open, gcTime: 0, queryFn: () => unwrap(api.GET("/api/boards/{id}/versions", { params: { path: { id: board.id } } })) });
  return (
    <details open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Earlier versions</summary>
      {list.data?.length === 0 && <p className="facts">None yet. What the board was is kept every few minutes while it is changed.</p>}
      <div className="kept-shapes">
        {(list.data ?? []).map((v) => (
          <button key={v.version} type="button" className="kept-shape" onClick={() => replaceBoard(v.board)}>
            <Silhouette path={v.path} box={v.box} light={wood.species.light} dark={wood.species.dark} label="" />
            {time(v.at)}
          </button>
        ))}
      </div>
    </details>
  );
}

