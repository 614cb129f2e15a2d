// An outline from a photograph: the picture, the four corners of the sheet on
// the wood, and the edge that was found, to be taken over.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { api, unwrap, type Found, type Piece, type Point, type Slab } from "../api/client";
import { Away } from "../kit/away";
import { Choice, LengthField, Row } from "../kit/fields";
import { FilePick, send } from "../kit/files";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { FoundDrawing } from "./FoundDrawing";
import { clip } from "../timber/marks";
import { Edge, firstTolerance, reach, useNodes } from "./FoundEdge";
import { PictureMarks, type Picture } from "./PictureMarks";

const sheets = {
  a4: { label: "A4", width: 297, height: 210 },
  letter: { label: "Letter", width: 279.4, height: 215.9 },
} as const;

/** outlined is a slab with the outline that was found of one of its faces. */
function outlined(s: Slab, f: Found, under: boolean): Slab {
  const long = Math.ceil(reach(f) * 100) / 100;
  if (under) {
    const underLook = { ...s.underLook, ground: f.ground };
    return { ...s, under: [], underOutline: f.line, length: Math.max(s.length, long), underLook };
  }
  const showLook = { ...s.showLook, ground: f.ground };
  return { ...s, show: [], outline: f.line, length: long, ...clip(s, long), showLook };
}

export default function PhotoPlace() {
  const { id = "" } = useParams();
  const piece = useQuery({
    queryKey: ["piece", id],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  if (!piece.data) return <Away of={piece} />;
  return <Photograph piece={piece.data} />;
}

/** useTaking makes what was found the outline of the piece. */
function useTaking(piece: Piece, under: boolean, back: string) {
  const client = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: async (f: Found) => {
      const now = await unwrap(api.GET("/api/pieces/{id}", { params: { path: { id: piece.id } } }));
      const slab = outlined(now.slab, f, under);
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
}

/** amid are four corners amid a picture, to be dragged. */
const amid = (p: Picture): Point[] =>
  [
    [0.35, 0.35],
    [0.65, 0.35],
    [0.65, 0.65],
    [0.35, 0.65],
  ].map(([x, y]) => ({ x: x * p.width, y: y * p.height }));

function Photograph({ piece }: { piece: Piece }) {
  const { shop } = useWorkshop();
  const [search] = useSearchParams();
  const under = search.get("face") === "under";
  const [picture, setPicture] = useState<Picture | null>(null);
  const [corners, setCorners] = useState<Point[]>([]);
  const [kind, setKind] = useState<SheetKind>(shop.paper === "Letter" ? "letter" : "a4");
  const [own, setOwn] = useState({ width: 200, height: 150 });
  const [found, setFound] = useState<Found | null>(null);
  const [picked, setPicked] = useState(-1);
  const sheet = kind === "own" ? own : sheets[kind];
  const back = `/timber/${piece.id}?part=outline${under ? "&face=under" : ""}`;
  const begin = (p: Picture, at?: Point[]) => {
    setPicture(p);
    setFound(null);
    setCorners(at ?? amid(p));
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
            tolerance: firstTolerance,
            under,
          },
        }),
      ),
    onSuccess: setFound,
  });
  const { moveNode, simplify } = useNodes(found, setFound);
  const take = useTaking(piece, under, back);
  // The latest step first: an older refusal must not hide it.
  const wrong = take.error ?? simplify.error ?? find.error ?? sample.error ?? keep.error;
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
          {!picture && <HowTo />}
          {picture && !found && (
            <PictureMarks
              label="The photograph with the corners of the sheet. [ and ] pick a corner, arrow keys move it."
              picture={picture}
              marks={corners}
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
          <Wrong error={wrong} />
          {picture && (
            <SheetSize kind={kind} onKind={setKind} own={own} onOwn={setOwn}>
              {!found && (
                <>
                  <p className="facts">
                    Drag the four marks to its corners, in order round it. A pixel or two off does not matter: the
                    sheet&apos;s own edges are followed.
                  </p>
                  <Button disabled={find.isPending} onClick={() => find.mutate()}>
                    {find.isPending ? "Looking for the edge" : "Find the edge of the wood"}
                  </Button>
                </>
              )}
            </SheetSize>
          )}
          {found && (
            <Edge
              found={found}
              onSimplify={(within) => simplify.mutate(within)}
              after="The picture, straightened, then lies under the drawing, for marking flaws."
            >
              <Button disabled={take.isPending} onClick={() => take.mutate(found)}>
                Take this outline
              </Button>
              <Button variant="outline-secondary" onClick={() => setFound(null)}>
                Back to the corners
              </Button>
            </Edge>
          )}
        </section>
      </div>
    </div>
  );
}

type SheetKind = keyof typeof sheets | "own";

interface SheetProps {
  kind: SheetKind;
  onKind: (kind: SheetKind) => void;
  own: { width: number; height: number };
  onOwn: (own: { width: number; height: number }) => void;
  children: ReactNode;
}

/** SheetSize is how large the sheet on the wood is. */
function SheetSize({ kind, onKind, own, onOwn, children }: SheetProps) {
  return (
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
        onChange={onKind}
      />
      {kind === "own" && (
        <Row>
          <LengthField
            label="One side"
            of="sheet.width"
            mm={own.width}
            onChange={(width) => onOwn({ ...own, width })}
          />
          <LengthField
            label="Other side"
            of="sheet.height"
            mm={own.height}
            onChange={(height) => onOwn({ ...own, height })}
          />
        </Row>
      )}
      {children}
    </>
  );
}

/** HowTo tells how the picture is taken. */
function HowTo() {
  return (
    <div className="photo-empty">
      <p>
        Lay a sheet of paper flat on the wood, clear of its edges. Photograph the whole piece from above, on ground of
        another colour.
      </p>
      <p className="facts">PNG or JPEG, to 25 megapixels. What the camera notes of place and person is thrown away.</p>
    </div>
  );
}
