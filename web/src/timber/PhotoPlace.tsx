// An outline from a photograph: the picture, the four corners of the sheet on
// the wood, and the edge that was found, to be taken over.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type PointerEvent } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, say, unwrap, type Found, type Piece, type Point } from "../api/client";
import { Ground, useSize } from "../kit/drawing";
import { Choice, LengthField, Row } from "../kit/fields";
import { FilePick, send } from "../kit/files";
import { useWorkshop } from "../kit/workshop";
import { clip } from "./marks";
import { Grip } from "./PieceDrawing";

interface Picture {
  id: string;
  width: number;
  height: number;
}

const sheets = {
  a4: { label: "A4", width: 297, height: 210 },
  letter: { label: "Letter", width: 279.4, height: 215.9 },
} as const;

/** reach is how long the wood is, mm: a node may have been dragged past the end that was found. */
const reach = (f: Found) => Math.max(f.length, ...f.line.map((p) => p.x));

export default function PhotoPlace() {
  const { id = "" } = useParams();
  const piece = useQuery({
    queryKey: ["piece", id],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  if (!piece.data) return piece.error ? <p className="empty">{say(piece.error)}</p> : null;
  return <Photograph piece={piece.data} />;
}

function Photograph({ piece }: { piece: Piece }) {
  const { length, shop } = useWorkshop();
  const [search] = useSearchParams();
  const under = search.get("face") === "under";
  const client = useQueryClient();
  const navigate = useNavigate();
  const [picture, setPicture] = useState<Picture | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
  const [kind, setKind] = useState<"a4" | "letter" | "own">(shop.paper === "Letter" ? "letter" : "a4");
  const [own, setOwn] = useState({ width: 200, height: 150 });
  const [tolerance, setTolerance] = useState(0.5);
  const [found, setFound] = useState<Found | null>(null);
  const [picked, setPicked] = useState(-1);
  const sheet = kind === "own" ? own : sheets[kind];
  const back = `/timber/${piece.id}?part=outline${under ? "&face=under" : ""}`;
  const begin = (p: Picture, at?: Point[]) => {
    setPicture(p);
    setFound(null);
    setCorners(
      at ??
        [
          [0.35, 0.35],
          [0.65, 0.35],
          [0.65, 0.65],
          [0.35, 0.65],
        ].map(([x, y]) => ({ x: x * p.width, y: y * p.height })),
    );
  };
  const keep = useMutation({
    mutationFn: (file: File) => send<Picture>("/api/pictures", file),
    onSuccess: (p) => begin(p),
  });
  const sample = useMutation({
    mutationFn: () => unwrap(api.POST("/api/pictures/sample", { body: { seed: Math.round(piece.slab.length) } })),
    onSuccess: (s) => begin(s.picture, s.corners),
  });
  const find = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/pictures/{id}/find", {
          params: { path: { id: picture!.id } },
          body: {
            corners,
            sheet: { width: sheet.width, height: sheet.height },
            thickness: Math.max(1, ...piece.slab.readings.map((r) => r.thickness)),
            tolerance,
            under,
          },
        }),
      ),
    onSuccess: setFound,
  });
  const moved = useRef(0); // how often a node was dragged
  const moveNode = (i: number, dx: number, dy: number) => {
    moved.current++;
    setFound(
      (f) =>
        f && {
          ...f,
          line: f.line.map((p, k) => (k === i ? { x: Math.max(Math.min(0, p.x), p.x + dx), y: p.y + dy } : p)),
        },
    );
  };
  const simplify = useMutation({
    mutationFn: async (within: number) => {
      const at = moved.current;
      const line = await unwrap(
        api.POST("/api/outlines/simplify", { body: { line: found!.dense, tolerance: within } }),
      );
      return at === moved.current ? line : null; // what was dragged meanwhile stays
    },
    onSuccess: (line) => line && setFound((f) => f && { ...f, line }),
  });
  const take = useMutation({
    mutationFn: async () => {
      const now = await unwrap(api.GET("/api/pieces/{id}", { params: { path: { id: piece.id } } }));
      const s = now.slab;
      const f = found!;
      const long = Math.ceil(reach(f) * 100) / 100;
      const slab = under
        ? {
            ...s,
            under: [],
            underOutline: f.line,
            length: Math.max(s.length, long),
            underLook: { ...s.underLook, ground: f.ground },
          }
        : {
            ...s,
            show: [],
            outline: f.line,
            length: long,
            ...clip(s, long),
            showLook: { ...s.showLook, ground: f.ground },
          };
      return unwrap(
        api.PUT("/api/pieces/{id}", { params: { path: { id: piece.id } }, body: { version: now.version, slab } }),
      );
    },
    onSuccess: (saved) => {
      client.setQueryData(["piece", piece.id], saved);
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate(back);
    },
  });
  const wrong = take.error ?? simplify.error ?? find.error ?? sample.error ?? keep.error; // the latest step first: an older refusal must not hide it
  return (
    <div className="work piece-page">
      <header className="page-head">
        <Link to={back} className="back">
          {piece.slab.name}
        </Link>
        <h1>{under ? "Under face from a photograph" : "Outline from a photograph"}</h1>
      </header>
      <div className="work-body">
        <section className="work-wood photo-place" aria-label="The photograph">
          {!picture && (
            <div className="photo-empty">
              <p>
                Lay a sheet of paper flat on the wood, clear of its edges. Photograph the whole piece from above, on
                ground of another colour.
              </p>
              <p className="facts">
                PNG or JPEG, to 25 megapixels. What the camera notes of place and person is thrown away.
              </p>
            </div>
          )}
          {picture && !found && (
            <Corners
              picture={picture}
              corners={corners}
              picked={picked}
              onPick={setPicked}
              onMove={(i, p) => setCorners((all) => all.map((c, k) => (k === i ? p : c)))}
            />
          )}
          {found && <FoundDrawing found={found} under={under} picked={picked} onPick={setPicked} onMove={moveNode} />}
        </section>
        <section className="work-panel" aria-label="Steps">
          <h2>1. The picture</h2>
          <div className="d-flex gap-2 flex-wrap">
            <FilePick
              label={picture ? "Another picture" : "Choose a picture"}
              accept="image/png,image/jpeg"
              busy={keep.isPending}
              onFile={(f) => keep.mutate(f)}
            />
            <Button size="sm" variant="outline-secondary" disabled={sample.isPending} onClick={() => sample.mutate()}>
              {sample.isPending ? "Taking it" : "Try a sample picture"}
            </Button>
          </div>
          {wrong && (
            <p className="wrong" role="alert">
              {say(wrong)}
            </p>
          )}
          {picture && (
            <>
              <h2>2. The sheet</h2>
              <Choice
                label="Sheet on the wood"
                value={kind}
                options={[
                  { value: "a4", label: "A4" },
                  { value: "letter", label: "Letter" },
                  { value: "own", label: "another size" },
                ]}
                onChange={setKind}
              />
              {kind === "own" && (
                <Row>
                  <LengthField
                    label="One side"
                    of="sheet.width"
                    mm={own.width}
                    onChange={(width) => setOwn((o) => ({ ...o, width }))}
                  />
                  <LengthField
                    label="Other side"
                    of="sheet.height"
                    mm={own.height}
                    onChange={(height) => setOwn((o) => ({ ...o, height }))}
                  />
                </Row>
              )}
              {!found && (
                <p className="facts">
                  Drag the four marks to its corners, in order round it. A pixel or two off does not matter: the
                  sheet&apos;s own edges are followed.
                </p>
              )}
              {!found && (
                <Button disabled={find.isPending} onClick={() => find.mutate()}>
                  {find.isPending ? "Looking for the edge" : "Find the edge of the wood"}
                </Button>
              )}
            </>
          )}
          {found && (
            <>
              <h2>3. The edge</h2>
              <p role="status" className="found-words">
                {length(Math.round(reach(found) * 10) / 10)} long, {(found.area / 100).toFixed(0)} cm²,{" "}
                {found.line.length} nodes. Expect it to be right within{" "}
                <strong>{length(Math.max(0.1, Math.round(found.error * 10) / 10))}</strong> on the whole.
              </p>
              <p className="facts">Drag a node where it strays, or pick one and use the arrow keys.</p>
              <LengthField
                label="Simplify within"
                of="finding.tolerance"
                mm={tolerance}
                onChange={(t) => {
                  setTolerance(t);
                  simplify.mutate(t);
                }}
              />
              <div className="d-flex gap-2 mt-2">
                <Button disabled={take.isPending} onClick={() => take.mutate()}>
                  Take this outline
                </Button>
                <Button variant="outline-secondary" onClick={() => setFound(null)}>
                  Back to the corners
                </Button>
              </div>
              <p className="facts">The picture, straightened, then lies under the drawing, for marking flaws.</p>
            </>
          )}
        </section>
      </div>
    </div>
  );
}

interface CornersProps {
  picture: Picture;
  corners: Point[];
  picked: number;
  onPick: (i: number) => void;
  onMove: (i: number, p: Point) => void;
}

/** Corners shows the picture as it was taken, with the sheet's corners to be dragged. */
function Corners({ picture, corners, picked, onPick, onMove }: CornersProps) {
  const [ref, size] = useSize();
  const drag = useRef(-1);
  const scale = Math.min(size.width / picture.width, size.height / picture.height);
  const at = (e: PointerEvent<SVGSVGElement>): Point => {
    const box = e.currentTarget.getBoundingClientRect();
    return { x: (e.clientX - box.left) / scale, y: (e.clientY - box.top) / scale };
  };
  const loupe = picked >= 0 ? corners[picked] : undefined;
  const zoom = 4;
  return (
    <div className="photo-room" ref={ref}>
      {size.width > 0 && (
        <svg
          width={picture.width * scale}
          height={picture.height * scale}
          role="application"
          tabIndex={0}
          aria-label="The photograph with the corners of the sheet. [ and ] pick a corner, arrow keys move it."
          onKeyDown={(e) => {
            const step = e.shiftKey ? 10 : 1;
            const keys: Record<string, Point> = {
              ArrowLeft: { x: -step, y: 0 },
              ArrowRight: { x: step, y: 0 },
              ArrowUp: { x: 0, y: -step },
              ArrowDown: { x: 0, y: step },
            };
            if (e.key === "]") onPick((picked + 1) % 4);
            else if (e.key === "[") onPick((picked + 3) % 4);
            else if (e.key in keys && picked >= 0)
              onMove(picked, { x: corners[picked].x + keys[e.key].x, y: corners[picked].y + keys[e.key].y });
            else return;
            e.preventDefault();
          }}
          onPointerDown={(e) => {
            const id = (e.target as Element).getAttribute("data-grip");
            if (id === null) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = Number(id);
            onPick(drag.current);
          }}
          onPointerMove={(e) => drag.current >= 0 && onMove(drag.current, at(e))}
          onPointerUp={() => (drag.current = -1)}
        >
          <image href={`/api/pictures/${picture.id}`} width={picture.width * scale} height={picture.height * scale} />
          <path className="sheet-line" d={`M${corners.map((c) => `${c.x * scale} ${c.y * scale}`).join("L")}z`} />
          {corners.map((c, i) => (
            <Grip key={i} id={String(i)} at={{ x: c.x * scale, y: c.y * scale }} picked={picked === i} />
          ))}
          {loupe && (
            <g
              className="loupe"
              transform={`translate(${loupe.x * scale > 150 ? 4 : picture.width * scale - 124} 4)`}
              pointerEvents="none"
            >
              <svg
                width={120}
                height={120}
                viewBox={`${loupe.x - 60 / zoom} ${loupe.y - 60 / zoom} ${120 / zoom} ${120 / zoom}`}
              >
                <image href={`/api/pictures/${picture.id}`} width={picture.width} height={picture.height} />
              </svg>
              <path d="M60 44V76M44 60H76M0 0H120V120H0Z" />
            </g>
          )}
        </svg>
      )}
    </div>
  );
}

interface FoundProps {
  found: Found;
  under: boolean;
  picked: number;
  onPick: (i: number) => void;
  onMove: (i: number, dx: number, dy: number) => void;
}

/** FoundDrawing shows the straightened picture with the edge that was found over it. */
function FoundDrawing({ found, under, picked, onPick, onMove }: FoundProps) {
  const [ref, size] = useSize();
  const drag = useRef<{ node: number; x: number; y: number } | null>(null);
  const g = found.ground;
  const scale = Math.min(size.width / (g.maxX - g.minX), size.height / (g.maxY - g.minY));
  const up = under ? 1 : -1;
  const screen = (p: Point): Point => ({
    x: (p.x - g.minX) * scale,
    y: under ? (p.y - g.minY) * scale : (g.maxY - p.y) * scale,
  });
  return (
    <div className="photo-room" ref={ref}>
      {size.width > 0 && (
        <svg
          width={(g.maxX - g.minX) * scale}
          height={(g.maxY - g.minY) * scale}
          role="application"
          tabIndex={0}
          aria-label="The edge that was found. [ and ] pick a node, arrow keys move it."
          onKeyDown={(e) => {
            const step = e.shiftKey ? 5 : 0.5;
            const n = found.line.length;
            const keys: Record<string, [number, number]> = {
              ArrowLeft: [-step, 0],
              ArrowRight: [step, 0],
              ArrowUp: [0, -up * step],
              ArrowDown: [0, up * step],
            };
            if (e.key === "]") onPick((picked + 1) % n);
            else if (e.key === "[") onPick((picked - 1 + n) % n);
            else if (e.key in keys && picked >= 0) onMove(picked, ...keys[e.key]);
            else return;
            e.preventDefault();
          }}
          onPointerDown={(e) => {
            const id = (e.target as Element).getAttribute("data-grip");
            onPick(id === null ? -1 : Number(id));
            if (id === null) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = { node: Number(id), x: e.clientX, y: e.clientY };
          }}
          onPointerMove={(e) => {
            if (!drag.current) return;
            const { node, x, y } = drag.current;
            onMove(node, (e.clientX - x) / scale, (up * (e.clientY - y)) / scale);
            drag.current = { node, x: e.clientX, y: e.clientY };
          }}
          onPointerUp={() => (drag.current = null)}
        >
          <g
            transform={
              under
                ? `scale(${scale}) translate(${-g.minX} ${-g.minY})`
                : `scale(${scale}) translate(${-g.minX} ${g.maxY}) scale(1 -1)`
            }
          >
            <Ground photo={g} flipped={under} />
          </g>
          <path className="found-line" d={`M${found.line.map((p) => `${screen(p).x} ${screen(p).y}`).join("L")}z`} />
          {found.line.map((p, i) => (
            <Grip key={i} id={String(i)} at={screen(p)} picked={picked === i} />
          ))}
        </svg>
      )}
    </div>
  );
}
