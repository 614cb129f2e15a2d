// Shapes that are kept: the maker's own templates, and what the board was before.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Board, type VersionLine, type Wood } from "../../api/client";
import { Silhouette } from "../../kit/drawing";
import { RemoveButton, Row, TextField } from "../../kit/fields";
import { showMinutes } from "../../kit/length";
import { Wrong } from "../../kit/parts";
import { LevelMark } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import type { SetDesign } from "./lines";

/** Kept are the maker's own templates. */
export function Kept({ board, wood, set }: { board: Board; wood: Wood; set: SetDesign }) {
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
  const drop = useMutation({
    mutationFn: (id: string) => unwrap(api.DELETE("/api/templates/{id}", { params: { path: { id } } })),
    onSuccess: again,
  });
  const wrong = keep.error ?? drop.error;
  return (
    <>
      <h2>Templates</h2>
      {(kept.data ?? []).length > 0 && (
        <div className="kept-shapes">
          {(kept.data ?? []).map((t) => (
            <div key={t.id} className="kept-one">
              <button
                type="button"
                className="kept-shape"
                onClick={() => set((now) => ({ ...t.design, thickness: now.thickness }))}
              >
                <Silhouette
                  path={t.path}
                  holes={t.holes}
                  box={t.box}
                  light={wood.species.light}
                  dark={wood.species.dark}
                  label=""
                />
                {t.name}
              </button>
              <RemoveButton what={`the template ${t.name}`} onClick={() => drop.mutate(t.id)} />
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
      <Wrong error={wrong} />
    </>
  );
}

/** Versions are what the board was, by date. */
export function Versions({
  board,
  wood,
  replaceBoard,
}: {
  board: Board;
  wood: Wood;
  replaceBoard: (b: Board) => void;
}) {
  const { time } = useWorkshop();
  const [open, setOpen] = useState(false);
  const list = useQuery({
    queryKey: ["versions", board.id],
    enabled: open,
    gcTime: 0,
    queryFn: () => unwrap(api.GET("/api/boards/{id}/versions", { params: { path: { id: board.id } } })),
  });
  return (
    <details open={open} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Earlier versions</summary>
      {list.data?.length === 0 && (
        <p className="facts">None yet. What the board was is kept every few minutes while it is changed.</p>
      )}
      {(list.data?.length ?? 0) > 0 && (
        <SideBySide board={board} wood={wood} versions={(list.data ?? []).slice(0, 3)} replaceBoard={replaceBoard} />
      )}
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

interface SideProps {
  board: Board;
  wood: Wood;
  versions: VersionLine[];
  replaceBoard: (b: Board) => void;
}

/** SideBySide sets the board as it is beside what it was, at one scale, with what each comes to. */
function SideBySide({ board, wood, versions, replaceBoard }: SideProps) {
  const { length, value, time } = useWorkshop();
  const compare = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/boards/{id}/variants", {
          params: { path: { id: board.id } },
          body: { boards: [board, ...versions.map((v) => ({ ...v.board, id: board.id }))] },
        }),
      ),
  });
  const widest = Math.max(1, ...(compare.data ?? []).map((v) => v.box[2] - v.box[0]));
  return (
    <>
      <Button size="sm" variant="outline-primary" className="mb-1" onClick={() => compare.mutate()}>
        Set them side by side
      </Button>
      <Wrong error={compare.error} />
      {compare.data && (
        <div className="variants">
          {compare.data.map((v, i) => (
            <figure key={i}>
              <div style={{ width: `${((v.box[2] - v.box[0]) / widest) * 100}%` }}>
                <Silhouette path={v.path} box={v.box} light={wood.species.light} dark={wood.species.dark} label="" />
              </div>
              <figcaption>
                <strong>{i === 0 ? "As it is" : time(versions[i - 1].at)}</strong>
                <span>
                  {length(v.box[2] - v.box[0])} × {length(v.box[3] - v.box[1])} × {length(v.thick)}
                </span>
                <span>{value(v.mass, "kg")}</span>
                <span>{showMinutes(v.handsOn)} at work</span>
                {v.finish && <span>ready {time(v.finish, false)}</span>}
                <span>
                  <LevelMark level={v.level} /> {v.stops > 0 && `${v.stops} to stop for, `}
                  {v.minds} to mind
                </span>
                {i > 0 && (
                  <button type="button" className="link" onClick={() => replaceBoard(versions[i - 1].board)}>
                    Take this one
                  </button>
                )}
              </figcaption>
            </figure>
          ))}
        </div>
      )}
    </>
  );
}
