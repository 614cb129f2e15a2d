// The outline: a named shape by its few dimensions, or a line by its points;
// shapes that were kept, files, and what the board was before.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import {
  api,
  unwrap,
  type Board,
  type Design,
  type FileOutline,
  type Node,
  type Reckoned,
  type Wood,
} from "../../api/client";
import { Link } from "react-router";
import { Silhouette } from "../../kit/drawing";
import { Choice, FaceChoice, kindsOf, LengthField, NumberField, Row, Tick } from "../../kit/fields";
import { FilePick, send } from "../../kit/files";
import { Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { Dimensions } from "./Dimensions";
import { EndFields } from "./EndFields";
import { Kept, Versions } from "./Kept";
import { recast, redrawn, type SetDesign, type Shaping } from "./lines";
import { PickedNode } from "./Nodes";

interface Props {
  board: Board;
  r: Reckoned;
  wood: Wood;
  set: SetDesign;
  replaceBoard: (b: Board) => void;
  shaping: Shaping;
}

export function OutlinePart({ board, r, wood, set, replaceBoard, shaping }: Props) {
  const { tables, length } = useWorkshop();
  const d = board.design;
  const params = (half: boolean) => ({ path: { id: board.id }, query: { half } });
  const free = useMutation({
    mutationFn: (half: boolean) => unwrap(api.POST("/api/boards/{id}/nodes", { params: params(half), body: board })),
    // Only what is drawn anew: the rest may have changed meanwhile.
    onSuccess: ({ shape, nodes, half, asCut, length, width, handle, more }) =>
      set({ shape, nodes, half, asCut, length, width, handle, more }),
  });
  return (
    <>
      <Choice
        label="Shape"
        value={d.shape}
        options={kindsOf(tables.shapes)}
        onChange={(shape) => (shape === "free" ? free.mutate(false) : set((now) => recast(now, r, shape)))}
      />
      <Dimensions d={d} set={set} />
      <Choice
        label="How exact"
        value={d.style ?? ""}
        options={[
          { value: "", label: "as usual" },
          { value: "rustic", label: "rustic" },
          { value: "fine", label: "fine" },
        ]}
        onChange={(style) => set({ style: style || undefined })}
      />
      <OwnDimensions d={d} set={set} />
      {r.shape.presses.map((p) => (
        <Button
          key={p.label}
          size="sm"
          variant="outline-primary"
          className="mb-1"
          onClick={() => set(p.patch.design as Partial<Design>)}
        >
          {p.label.replace("{}", length(p.amount))}
        </Button>
      ))}
      {d.shape === "free" ? (
        <Points d={d} r={r} set={set} picked={shaping.picked} onHalf={(half) => free.mutate(half)} />
      ) : (
        <Button size="sm" variant="outline-primary" onClick={() => free.mutate(false)}>
          Draw on from this by points
        </Button>
      )}
      <Row>
        <LengthField
          label="Edges slant in by"
          of="board.design.slant"
          mm={d.slant ?? 0}
          onChange={(slant) => set({ slant }, "slant")}
        />
        {(d.slant ?? 0) > 0 && (
          <FaceChoice label="Wider face" under={d.wideUnder ?? false} onChange={(wideUnder) => set({ wideUnder })} />
        )}
      </Row>
      <Wrong error={free.error} />
      <div className="d-flex flex-wrap gap-2 align-items-start">
        <FromFile wood={wood} set={set} />
        <Link className="btn btn-sm btn-outline-primary" to={`/boards/${board.id}/trace`}>
          Trace a picture
        </Link>
      </div>
      <Kept board={board} wood={wood} set={set} />
      <Versions board={board} wood={wood} replaceBoard={replaceBoard} />
    </>
  );
}

interface PartProps {
  d: Design;
  set: SetDesign;
}

/** OwnDimensions are those that only one shape has. */
function OwnDimensions({ d, set }: PartProps) {
  switch (d.shape) {
    case "teardrop":
    case "heart":
      return (
        <Row>
          <LengthField
            label="Radius of the point"
            of="board.design.tip"
            mm={d.tip ?? 0}
            onChange={(tip) => set({ tip }, "tip")}
          />
          {d.shape === "heart" && (
            <LengthField
              label="Radius of the notch"
              of="board.design.shoulder"
              mm={d.shoulder}
              onChange={(shoulder) => set({ shoulder }, "shoulder")}
            />
          )}
        </Row>
      );
    case "paddle":
      return (
        <LengthField
          label="Corners of the neck's end, 0 for a full round"
          of="board.design.tip"
          mm={d.tip ?? 0}
          onChange={(tip) => set({ tip }, "tip")}
        />
      );
    case "blade":
      return (
        <NumberField
          label="Angle of the end from square"
          unit="°"
          of="board.design.angle"
          value={d.angle ?? 0}
          onChange={(angle) => set({ angle }, "angle")}
        />
      );
    case "plank":
      return (
        <>
          <LengthField
            label="Follow the natural edges so far inside them"
            of="board.design.inset"
            mm={d.inset ?? 0}
            onChange={(inset) => set({ inset }, "inset")}
          />
          <EndFields
            label="Handle end"
            end={d.handleEnd ?? {}}
            onChange={(handleEnd) => set({ handleEnd }, "handleEnd")}
          />
          <EndFields label="Far end" end={d.farEnd ?? {}} onChange={(farEnd) => set({ farEnd }, "farEnd")} />
        </>
      );
  }
  return null;
}

interface PointsProps extends PartProps {
  r: Reckoned;
  picked: string;
  onHalf: (half: boolean) => void;
}

/** Points are an outline drawn by points. */
function Points({ d, r, set, picked, onHalf }: PointsProps) {
  const nodes = d.nodes ?? [];
  const [left, bottom, right, top] = r.box;
  const scale = (kx: number, ky: number) => {
    const scaled = (n: Node): Node => ({ ...n, x: Number((n.x * kx).toFixed(3)), y: Number((n.y * ky).toFixed(3)) });
    set((now) => ({ nodes: (now.nodes ?? []).map(scaled) }), "scale");
  };
  return (
    <>
      <Row>
        <LengthField
          label="Length over all"
          of="board.design.length"
          mm={right - left}
          onChange={(v) => scale(v / (right - left), 1)}
        />
        <LengthField
          label="Width over all"
          of="board.design.width"
          mm={top - bottom}
          onChange={(v) => scale(1, v / (top - bottom))}
        />
      </Row>
      <Tick label="Half a template: the other half mirrors it" value={d.half ?? false} onChange={onHalf} />
      <p className="facts">{nodes.length} points. Drag them, or pick one with [ and ] and use the arrows.</p>
      <PickedNode d={d} line="node" picked={picked} grips={r.shape.grips} set={set} />
    </>
  );
}

/** FromFile takes an outline from a drawing. */
function FromFile({ wood, set }: { wood: Wood; set: SetDesign }) {
  const { range } = useWorkshop();
  const [found, setFound] = useState<FileOutline[]>([]);
  const take = (o: FileOutline) => {
    setFound([]);
    set(redrawn(o, (of) => range(of).least));
  };
  const file = useMutation({
    mutationFn: (f: File) => send<FileOutline[]>("/api/outlines", f),
    onSuccess: (o) => (o.length === 1 ? take(o[0]) : setFound(o)),
  });
  return (
    <>
      <FilePick label="Outline from a file" accept=".svg,.dxf" busy={file.isPending} onFile={(f) => file.mutate(f)} />
      {found.length > 0 && (
        <div className="kept-shapes" role="group" aria-label="Closed lines in the file">
          {found.slice(0, 12).map((o, k) => (
            <button key={k} type="button" className="kept-shape" onClick={() => take(o)}>
              <Silhouette
                path={o.path}
                box={[0, -o.width / 2, o.length, o.width / 2]}
                light={wood.species.light}
                dark={wood.species.dark}
                label=""
              />
              {o.name || `Line ${k + 1}`}
            </button>
          ))}
        </div>
      )}
      <Wrong error={file.error} />
    </>
  );
}
