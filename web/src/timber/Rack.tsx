// The rack: every piece as a silhouette to scale.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { api, say, unwrap, type PieceLine } from "../api/client";
import { Silhouette } from "../kit/drawing";
import { Pages, useSought } from "../kit/list";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { newPiece } from "./newPiece";

export default function Rack() {
  const { length } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [sought, setSought, settled] = useSought();
  const [bin, setBin] = useState(false);
  const [page, setPage] = useState(0);
  const rack = useQuery({
    queryKey: ["pieces", settled, bin, page],
    queryFn: () => unwrap(api.GET("/api/pieces", { params: { query: { q: settled, bin, page } } })),
    placeholderData: (before) => before,
  });
  const add = useMutation({
    mutationFn: () => unwrap(api.POST("/api/pieces", { body: newPiece() })),
    onSuccess: (p) => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate(`/timber/${p.id}`);
    },
  });
  const restore = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/pieces/{id}/restore", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["pieces"] }),
  });
  const items = rack.data?.items ?? [];
  const longest = Math.max(900, ...items.map((p) => p.length));
  return (
    <div className="sheet-page">
      <header className="page-head">
        <h1>Timber</h1>
        <Form.Control size="sm" type="search" className="seek" placeholder="Name or species" aria-label="Look for a name or species" value={sought} onChange={(e) => setSought(e.target.value)} />
        <Form.Check id="bin" type="switch" label="Offcut bin" checked={bin} onChange={(e) => setBin(e.target.checked)} />
        <Button className="ms-auto" onClick={() => add.mutate()} disabled={add.isPending}>
          Add a piece
        </Button>
      </header>
      {(add.error || rack.error) && (
        <p className="wrong" role="alert">
          {say(add.error ?? rack.error)}
        </p>
      )}
      {rack.data && items.length === 0 && <p className="empty">{bin ? "The offcut bin is empty." : sought ? "Nothing on the rack is called that." : "The rack is empty. Add the first piece."}</p>}
      <ul className="rack">
        {items.map((p) => (
          <li key={p.id}>
            {bin ? (
              <div className="rack-line">
                <PieceCard piece={p} longest={longest} length={length} />
                <Button size="sm" variant="outline-primary" onClick={() => restore.mutate(p.id)}>
                  Put back
                </Button>
              </div>
            ) : (
              <Link to={`/timber/${p.id}`} className="rack-line">
                <PieceCard piece={p} longest={longest} length={length} />
              </Link>
            )}
          </li>
        ))}
      </ul>
      <Pages total={rack.data?.total ?? 0} page={page} onPage={setPage} />
    </div>
  );
}

function PieceCard({ piece: p, longest, length }: { piece: PieceLine; longest: number; length: (mm: number) => string }) {
  return (
    <>
      <div className="rack-wood">
        <Silhouette path={p.path} box={[0, p.minY, p.length, p.maxY]} light={p.light} dark={p.dark} label={`Outline of ${p.name}`} longest={longest} seed={p.name} />
      </div>
      <div className="rack-words">
        <strong>{p.name}</strong>
        <span>{p.species}</span>
        <span>
          {length(p.length)} × {length(p.width)} × {length(p.thickness)}
        </span>
        <span className="ready">
          <LevelMark level={p.ready ? "good" : "mind"} word={false} /> {p.moisture > 0 ? `${p.moisture} %` : "not read"} · {p.ready ? "ready" : p.finding.split(".")[0].split(";")[0]}
        </span>
      </div>
    </>
  );
}
