// How the outline of a piece is measured: stations along a chalk line, a
// photograph, or a drawing from a file.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, say, unwrap, type FileOutline, type Slab, type Station } from "../api/client";
import { type Edit } from "../kit/document/useDocument";
import { cut, put } from "../kit/items";
import { Choice, LengthField, RemoveButton, Row, Tick } from "../kit/fields";
import { FilePick, send } from "../kit/files";
import { useWorkshop } from "../kit/workshop";
import { clip } from "./marks";
import { lineOf } from "./useMarking";

interface Props {
  id: string;
  slab: Slab;
  set: Edit<Slab>;
  flipped: boolean;
  picked: string;
  onPick: (id: string) => void;
}

export function Outline({ id, slab: s, set, flipped, picked, onPick }: Props) {
  const face = lineOf(flipped);
  return (
    <>
      <h2>{flipped ? "Edges of the under face" : "Edges"}</h2>
      {(s[face] ?? []).length > 0 ? (
        <Nodes slab={s} set={set} flipped={flipped} picked={picked} onPick={onPick} />
      ) : (
        <Stations slab={s} set={set} face={flipped ? "under" : "show"} />
      )}
      <h3>Measure it otherwise</h3>
      <p className="facts">
        From a photograph with a sheet of paper on the wood, or from a drawing. Flip the piece to measure its under
        face.
      </p>
      <div className="d-flex gap-2 flex-wrap">
        <Link className="btn btn-sm btn-outline-primary" to={`/timber/${id}/photo${flipped ? "?face=under" : ""}`}>
          From a photograph
        </Link>
        <FromFile slab={s} set={set} flipped={flipped} />
      </div>
      <h3>Style</h3>
      <Tick label="Left edge is live" value={s.liveLeft} onChange={(liveLeft) => set({ liveLeft })} />
      <Tick label="Right edge is live" value={s.liveRight} onChange={(liveRight) => set({ liveRight })} />
      <Row>
        {!s.liveLeft && (
          <EdgeQuality label="Left edge" value={s.leftEdge ?? ""} onChange={(leftEdge) => set({ leftEdge })} />
        )}
        {!s.liveRight && (
          <EdgeQuality label="Right edge" value={s.rightEdge ?? ""} onChange={(rightEdge) => set({ rightEdge })} />
        )}
        {s.liveLeft && (
          <BarkState label="Left edge" value={s.leftBark ?? ""} onChange={(leftBark) => set({ leftBark })} />
        )}
        {s.liveRight && (
          <BarkState label="Right edge" value={s.rightBark ?? ""} onChange={(rightBark) => set({ rightBark })} />
        )}
      </Row>
      <Row>
        <LengthField
          label="Rip off the left edge"
          of="piece.ripLeft"
          mm={s.ripLeft ?? 0}
          onChange={(ripLeft) => set({ ripLeft }, "rip-left")}
        />
        <LengthField
          label="Rip off the right edge"
          of="piece.ripRight"
          mm={s.ripRight ?? 0}
          onChange={(ripRight) => set({ ripRight }, "rip-right")}
        />
      </Row>
      <Choice
        label="Ends"
        value={s.naturalEnds ? "natural" : "square"}
        options={[
          { value: "square", label: "to be squared" },
          { value: "natural", label: "kept as found" },
        ]}
        onChange={(v) => set({ naturalEnds: v === "natural" })}
      />
      <h3>Take it out</h3>
      <div className="d-flex gap-2">
        <a className="btn btn-sm btn-outline-primary" href={`/api/pieces/${id}/outline.svg`} download>
          SVG, 1:1
        </a>
        <a className="btn btn-sm btn-outline-primary" href={`/api/pieces/${id}/outline.dxf`} download>
          DXF, 1:1
        </a>
      </div>
    </>
  );
}

/** Nodes tells of an outline drawn by nodes and edits the one that is picked. */
function Nodes({ slab: s, set, flipped, picked, onPick }: Omit<Props, "id">) {
  const face = lineOf(flipped);
  const list = s[face] ?? [];
  const i = picked === "" ? -1 : Number(picked);
  const node = list[i];
  const [tolerance, setTolerance] = useState(0.5);
  const simplify = useMutation({
    mutationFn: () => unwrap(api.POST("/api/outlines/simplify", { body: { line: list, tolerance } })),
    onSuccess: (line) => {
      set({ [face]: line });
      onPick("");
    },
  });
  const change = (part: Partial<(typeof list)[number]>) =>
    set((now) => ({ [face]: put(now[face] ?? [], i, part) }), `node-${i}`);
  const addAfter = () =>
    set((now) => {
      const l = now[face] ?? [];
      const [a, b] = [l[i], l[(i + 1) % l.length]];
      return { [face]: [...l.slice(0, i + 1), { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, ...l.slice(i + 1)] };
    });
  return (
    <>
      <p className="facts">
        Drawn by {list.length} nodes: drag them on the wood, or pick one with [ and ] and nudge it.
      </p>
      {node && (
        <>
          <Row>
            <LengthField label={`Node ${i + 1}: from the butt`} signed mm={node.x} onChange={(x) => change({ x })} />
            <LengthField label="from the chalk line" signed mm={node.y} onChange={(y) => change({ y })} />
            <RemoveButton
              what={`node ${i + 1}`}
              disabled={list.length < 4}
              onClick={() => set((now) => ({ [face]: cut(now[face] ?? [], i) }))}
            />
          </Row>
          <Button size="sm" variant="outline-primary" onClick={addAfter}>
            Add a node after it
          </Button>
        </>
      )}
      <Row>
        <LengthField label="Simplify within" of="finding.tolerance" mm={tolerance} onChange={setTolerance} />
        <Button size="sm" variant="outline-primary" className="align-self-end mb-1" onClick={() => simplify.mutate()}>
          Simplify
        </Button>
      </Row>
      {simplify.error && <p className="wrong">{say(simplify.error)}</p>}
      <Button
        size="sm"
        variant="outline-secondary"
        onClick={() =>
          set((now) =>
            flipped
              ? { underOutline: [], under: [] }
              : { outline: [], show: now.show.length > 0 ? now.show : boxed(list) },
          )
        }
      >
        {flipped ? "The same as the show face" : "Back to stations"}
      </Button>
    </>
  );
}

/** boxed are stations about as wide as an outline. */
function boxed(line: { x: number; y: number }[]): Station[] {
  const ys = line.map((p) => p.y);
  return [{ x: 0, left: Math.max(...ys), right: Math.min(...ys) }];
}

/** FromFile reads an SVG or DXF and lets one of its closed lines be chosen. */
function FromFile({ slab, set, flipped }: { slab: Slab; set: Edit<Slab>; flipped: boolean }) {
  const { length } = useWorkshop();
  const [choice, setChoice] = useState<FileOutline[]>([]);
  const read = useMutation({
    mutationFn: (file: File) => send<FileOutline[]>("/api/outlines", file),
    onSuccess: setChoice,
  });
  const take = (o: FileOutline) => {
    const line = flipped ? o.line.map((p) => ({ x: p.x, y: -p.y })).reverse() : o.line;
    set((now) =>
      flipped
        ? { underOutline: line, under: [], length: Math.max(now.length, o.length) }
        : { outline: line, show: [], length: o.length, ...clip(now, o.length) },
    );
    setChoice([]);
  };
  return (
    <>
      <FilePick label="From a drawing" accept=".svg,.dxf" busy={read.isPending} onFile={(f) => read.mutate(f)} />
      {read.error && <p className="wrong w-100">{say(read.error)}</p>}
      {choice.length > 0 && (
        <div className="w-100">
          <p className="facts">
            {choice.length === 1
              ? "One closed line."
              : `${choice.length} closed lines: choose the one that is the wood.`}{" "}
            {slab.flaws.length > 0 && "Flaws stay where they are from the butt and the chalk line."}
          </p>
          <ul className="choices">
            {choice.map((o, i) => (
              <li key={i}>
                <button type="button" className="choice-card" onClick={() => take(o)}>
                  <svg viewBox={`-4 ${-o.width / 2 - 4} ${o.length + 8} ${o.width + 8}`} aria-hidden="true">
                    <path d={o.path} transform="scale(1 -1)" />
                  </svg>
                  <span>
                    {o.name || `Line ${i + 1}`}, {length(o.length)} × {length(o.width)}
                  </span>
                </button>
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}

/** Stations edits the edges of the face that lies up; a live edge slopes, so that the under face may have its own. */
function Stations({ slab: s, set, face }: { slab: Slab; set: Edit<Slab>; face: "show" | "under" }) {
  const [single, setSingle] = useState(false);
  const list = s[face] ?? [];
  const edit = (to: (list: Slab["show"]) => Slab["show"], kind = "") =>
    set((now) => ({ [face]: to(now[face] ?? []) }), kind);
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
        <p className="facts">Its edges are taken to lie under those of the show face.</p>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => set((now) => (now.show.length > 0 ? { under: now.show } : { underOutline: now.outline }))}
        >
          Measure the under face too
        </Button>
      </>
    );
  }
  return (
    <>
      <div className="d-flex align-items-end justify-content-between">
        <h3>Stations</h3>
        <Tick label="one width" value={single} onChange={setSingle} />
      </div>
      {list.map((st, i) => (
        <Row key={`${face}-${i}`}>
          <LengthField
            label="From the butt"
            name={`station-${i}-x`}
            hideLabel={i > 0}
            mm={st.x}
            onChange={(x) => change(i, { x })}
          />
          {single ? (
            <LengthField
              label="Width"
              hideLabel={i > 0}
              mm={st.left - st.right}
              onChange={(w) => change(i, { left: w / 2, right: -w / 2 })}
            />
          ) : (
            <>
              <LengthField
                label="Left edge"
                name={`station-${i}-left`}
                hideLabel={i > 0}
                of="piece.show.left"
                mm={st.left}
                onChange={(left) => change(i, { left })}
              />
              <LengthField
                label="Right edge"
                name={`station-${i}-right`}
                hideLabel={i > 0}
                of="piece.show.right"
                mm={st.right}
                onChange={(right) => change(i, { right })}
              />
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

type Quality = NonNullable<Slab["leftEdge"]>;

interface QualityProps {
  label: string;
  value: Quality;
  onChange: (q: Quality) => void;
}

/** EdgeQuality is how straight a sawn edge is: marks and cuts refer to the better one. */
function EdgeQuality({ label, value, onChange }: QualityProps) {
  return (
    <Choice
      label={label}
      value={value}
      options={[
        { value: "", label: "not known" },
        { value: "jointed", label: "jointed" },
        { value: "factory", label: "as the factory left it" },
        { value: "sawn", label: "sawn" },
      ]}
      onChange={onChange}
    />
  );
}

type State = NonNullable<Slab["leftBark"]>;

/** BarkState is how a live edge was found. */
function BarkState({ label, value, onChange }: { label: string; value: State; onChange: (state: State) => void }) {
  return (
    <Choice
      label={`${label} has`}
      value={value}
      options={[
        { value: "" as State, label: "sound bark" },
        { value: "loose" as State, label: "loose bark" },
        { value: "splintery" as State, label: "splinters" },
        { value: "bare" as State, label: "bare wood" },
      ]}
      onChange={onChange}
    />
  );
}
