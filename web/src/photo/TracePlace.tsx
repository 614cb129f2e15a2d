// A board's outline traced from a picture: a template, a sketch, a board that is there. Two
// marks whose distance is known give its scale.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams } from "react-router";
import { api, unwrap, type Found, type Point } from "../api/client";
import { Away } from "../kit/away";
import { LengthField } from "../kit/fields";
import { FilePick, send } from "../kit/files";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { redrawn } from "../boards/shape/lines";
import { FoundDrawing } from "./FoundDrawing";
import { Edge, firstTolerance, useNodes } from "./FoundEdge";
import { PictureMarks, type Picture } from "./PictureMarks";

export default function TracePlace() {
  const { id = "" } = useParams();
  const sheet = useQuery({
    queryKey: ["board", id, "trace"],
    queryFn: () => unwrap(api.GET("/api/boards/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  if (!sheet.data) return <Away of={sheet} />;
  return <Trace id={id} name={sheet.data.board.name} long={sheet.data.board.design.length} />;
}

/** useTaking makes what was found the outline of the board. */
function useTaking(id: string, back: string) {
  const { range } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  return useMutation({
    mutationFn: async (f: Found) => {
      const path = { path: { id } };
      const drawn = await unwrap(api.POST("/api/outlines/nodes", { body: { line: f.line } }));
      const now = await unwrap(api.GET("/api/boards/{id}", { params: path }));
      const design = { ...now.board.design, ...redrawn(drawn, (of) => range(of).least) };
      return unwrap(
        api.PUT("/api/boards/{id}", { params: path, body: { version: now.version, board: { ...now.board, design } } }),
      );
    },
    onSuccess: () => {
      void client.invalidateQueries();
      void navigate(back);
    },
  });
}

function Trace({ id, name, long }: { id: string; name: string; long: number }) {
  const [picture, setPicture] = useState<Picture | null>(null);
  const [marks, setMarks] = useState<Point[]>([]);
  const [distance, setDistance] = useState(long);
  const [found, setFound] = useState<Found | null>(null);
  const [picked, setPicked] = useState(-1);
  const back = `/boards/${id}?stage=shape`;
  const keep = useMutation({
    mutationFn: (file: File) => send<Picture>("/api/pictures", file),
    onSuccess: (p) => {
      setPicture(p);
      setFound(null);
      setMarks([0.25, 0.75].map((x) => ({ x: x * p.width, y: 0.5 * p.height })));
    },
  });
  const find = useMutation({
    mutationFn: (hand: boolean) =>
      unwrap(
        api.POST("/api/pictures/{id}/trace", {
          params: { path: { id: picture!.id } },
          body: { marks, distance, tolerance: firstTolerance, hand },
        }),
      ),
    onSuccess: setFound,
  });
  const { moveNode, simplify } = useNodes(found, setFound);
  const take = useTaking(id, back);
  return (
    <div className="work piece-page">
      <header className="page-head">
        <Link to={back} className="back">
          {name}
        </Link>
        <h1>Outline traced from a picture</h1>
      </header>
      <div className="work-body">
        <section className="work-wood photo-place" aria-label="The picture">
          {!picture && (
            <div className="photo-empty">
              <p>
                Photograph a template, a sketch or a board square from above, whole, on ground of another colour, with a
                rule beside it.
              </p>
              <p className="facts">
                PNG or JPEG, to 25 megapixels. What the camera notes of place and person is thrown away.
              </p>
            </div>
          )}
          {picture && !found && (
            <PictureMarks
              label="The picture with two marks. [ and ] pick a mark, arrow keys move it."
              picture={picture}
              marks={marks}
              picked={picked}
              onPick={setPicked}
              onMove={(i, p) => setMarks((all) => all.map((m, k) => (k === i ? p : m)))}
            />
          )}
          {found && <FoundDrawing found={found} under={false} picked={picked} onPick={setPicked} onMove={moveNode} />}
        </section>
        <section className="work-panel" aria-label="Steps">
          <h2>1. The picture</h2>
          <FilePick
            label={picture ? "Another picture" : "Choose a picture"}
            accept="image/png,image/jpeg"
            busy={keep.isPending}
            onFile={(f) => keep.mutate(f)}
          />
          <Wrong error={take.error ?? simplify.error ?? find.error ?? keep.error} />
          {picture && (
            <>
              <h2>2. Its scale</h2>
              <p className="facts">
                Drag the two marks to places whose distance you know: the farther apart, the truer.
              </p>
              <LengthField label="Between the marks" of="tracing.distance" mm={distance} onChange={setDistance} />
              {!found && (
                <div className="d-flex flex-wrap gap-2 mt-2">
                  <Button disabled={find.isPending} onClick={() => find.mutate(false)}>
                    {find.isPending ? "Looking for the line" : "Trace the shape"}
                  </Button>
                  <Button variant="outline-secondary" disabled={find.isPending} onClick={() => find.mutate(true)}>
                    Draw it by hand
                  </Button>
                </div>
              )}
            </>
          )}
          {found && (
            <Edge
              found={found}
              onSimplify={(within) => simplify.mutate(within)}
              after="Points can be added and made smooth where the board is drawn on."
            >
              <Button disabled={take.isPending} onClick={() => take.mutate(found)}>
                Take this outline
              </Button>
              <Button variant="outline-secondary" onClick={() => setFound(null)}>
                Back to the marks
              </Button>
            </Edge>
          )}
        </section>
      </div>
    </div>
  );
}
