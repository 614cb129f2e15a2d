// Shapes that are kept: the maker's own templates, and what the board was before.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Board, type Wood } from "../../api/client";
import { Silhouette } from "../../kit/drawing";
import { RemoveButton, Row, TextField } from "../../kit/fields";
import { Wrong } from "../../kit/parts";
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
