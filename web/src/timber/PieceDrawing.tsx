// The piece as it is drawn and worked on: flaws and features are marked and
// moved, the nodes of an outline and the thickness readings dragged, by pointer
// and by keys.
import type { ReactNode } from "react";
import type { Photo, Point, Slab, Wood } from "../api/client";
import { type Doc } from "../kit/document/useDocument";
import { WoodDrawing, type View } from "../kit/drawing";
import { useWorkshop } from "../kit/workshop";
import { newFeature } from "./marks";
import { handles, placeOf } from "./place";
import { lineOf, useDrawn, useMarking, type Layer } from "./useMarking";

interface Props {
  slab: Slab;
  wood: Wood;
  flipped: boolean;
  layer: Layer;
  tool: string;
  picked: string;
  ground?: Photo;
  oiled?: boolean;
  onPick: (id: string) => void;
  onFlip: () => void;
  onDone: () => void;
  doc: Doc<Slab, Wood>;
  children: (view: View) => ReactNode;
}

export function PieceDrawing({
  slab,
  wood,
  flipped,
  layer,
  tool,
  picked,
  ground,
  oiled,
  onPick,
  onFlip,
  onDone,
  doc,
  children,
}: Props) {
  const face = lineOf(flipped);
  const nodes = slab[face] ?? [];

  const { onKeyDown, pointer, mark } = useMarking({ slab, flipped, layer, tool, picked, onPick, onFlip, onDone, doc });
  return (
    <WoodDrawing
      wood={wood}
      name={slab.name}
      marking={tool !== ""}
      flipped={flipped}
      selected={picked}
      ground={ground}
      oiled={oiled}
      label={`Drawing of ${slab.name}. Arrow keys move what is picked, [ and ] pick the one before or after.`}
      onKeyDown={onKeyDown}
      pointer={pointer}
    >
      {(view) => (
        <>
          {children(view)}
          {layer === "nodes" &&
            nodes.map((p, i) => <Grip key={i} at={view.toScreen(p)} id={String(i)} picked={picked === String(i)} />)}
          <Readings slab={slab} live={layer === "readings"} picked={picked} view={view} />
          {layer === "marks" && <Handles slab={slab} flipped={flipped} picked={picked} view={view} />}
          {mark && <Drawing tool={tool} a={mark.a} b={mark.b} view={view} />}
        </>
      )}
    </WoodDrawing>
  );
}

/** Drawing is the mark that is being drawn, as it will lie. */
function Drawing({ tool, a, b, view }: { tool: string; a: Point; b: Point; view: View }) {
  const { tables } = useWorkshop();
  const kind = [...tables.flaws, ...tables.features].find((m) => m.kind === tool);
  if (!kind) return null;
  const m = newFeature(kind, a, b, false);
  if (m.line) {
    const points = m.line.map((p) => view.toScreen(p)).map((p) => `${p.x} ${p.y}`);
    return <path className="marking" d={`M${points.join("L")}${kind.drawn === "area" ? "Z" : ""}`} />;
  }
  const at = view.toScreen(m.centre);
  return <ellipse className="marking" cx={at.x} cy={at.y} rx={(m.a ?? 0) * view.scale} ry={(m.b ?? 0) * view.scale} />;
}

/** Handles are those of the mark that is picked, on its face. */
function Handles({ slab, flipped, picked, view }: { slab: Slab; flipped: boolean; picked: string; view: View }) {
  const drawnAs = useDrawn();
  const m = [...slab.flaws, ...(slab.features ?? [])].find((o) => o.id === picked);
  const drawn = m && drawnAs(m.kind);
  if (!m || !drawn || (m.under ?? false) !== flipped) return null;
  const { length, width } = placeOf(m, drawn);
  const room = 26; // px: in less, handles would lie over what is to be moved
  if (Math.max(length, width) * view.scale < room) return null;
  return handles(m, drawn).map((p, i) => <Grip key={i} at={view.toScreen(p)} id={String(i)} picked={false} />);
}

/** Grip is a node that can be dragged; what a finger may miss is larger than what is seen. */
export function Grip({ at, id, picked }: { at: Point; id: string; picked: boolean }) {
  return (
    <>
      <circle className={`node ${picked ? "is-picked" : ""}`} cx={at.x} cy={at.y} r={picked ? 5.5 : 3.5} />
      <circle className="node-reach" cx={at.x} cy={at.y} r={11} data-grip={id} />
    </>
  );
}

/** Readings are the thicknesses, where they were taken. */
function Readings({ slab, live, picked, view }: { slab: Slab; live: boolean; picked: string; view: View }) {
  const { length } = useWorkshop();
  return (
    <>
      {slab.readings.map((r, i) => {
        const p = view.toScreen(r);
        const text = length(r.thickness);
        const wide = 6.2 * text.length + 8;
        return (
          <g key={i} className={`reading ${live ? "is-live" : ""} ${live && picked === String(i) ? "is-picked" : ""}`}>
            <rect x={p.x - wide / 2} y={p.y - 9} width={wide} height={17} rx={3} data-grip={live ? i : undefined} />
            <text x={p.x} y={p.y + 4}>
              {text}
            </text>
          </g>
        );
      })}
    </>
  );
}
