// Every board, the nearest date first.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type ChangeEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { Link, useNavigate } from "react-router";
import { api, Refused, say, unwrap, type BoardLine } from "../api/client";
import { Silhouette, silhouetteOf } from "../kit/drawing";
import { Pages, useSought } from "../kit/list";
import { showMinutes } from "../kit/length";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

export default function BoardList() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [sought, setSought, settled] = useSought();
  const [bin, setBin] = useState(false);
  const [page, setPage] = useState(0);
  const list = useQuery({
    queryKey: ["boards", settled, bin, page],
    queryFn: () => unwrap(api.GET("/api/boards", { params: { query: { q: settled, bin, page } } })),
    placeholderData: (before) => before,
  });
  const restore = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/boards/{id}/restore", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["boards"] }),
  });
  const takeIn = useMutation({
    mutationFn: async (file: File) => {
      const response = await fetch("/api/jobs", {
        method: "POST",
        headers: { "Content-Type": "application/json" },
        body: await file.text(),
      });
      const answer = (await response.json()) as { boards: string[] };
      if (!response.ok) throw new Refused(response.status, answer as never);
      return answer;
    },
    onSuccess: (taken) => navigate(taken.boards.length > 0 ? `/boards/${taken.boards[0]}` : "/timber"),
  });
  const file = useRef<HTMLInputElement>(null);
  const items = list.data?.items ?? [];
  return (
    <div className="sheet-page">
      <header className="page-head">
        <h1>Boards</h1>
        <Form.Control
          size="sm"
          type="search"
          className="seek"
          placeholder="Name or person"
          aria-label="Look for a name or person"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
        />
        <Form.Check
          id="bin"
          type="switch"
          label="Offcut bin"
          checked={bin}
          onChange={(e) => setBin(e.target.checked)}
        />
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          className="visually-hidden"
          aria-label="Job file"
          tabIndex={-1}
          onChange={(e: ChangeEvent<HTMLInputElement>) => {
            const chosen = e.target.files?.[0];
            e.target.value = "";
            if (chosen) takeIn.mutate(chosen);
          }}
        />
        <Button className="ms-auto" variant="outline-primary" onClick={() => file.current?.click()}>
          Take in a job file
        </Button>
        <Link to="/timber" className="btn btn-primary">
          Choose wood for a board
        </Link>
      </header>
      {(takeIn.error || list.error) && (
        <p className="wrong" role="alert">
          {say(takeIn.error ?? list.error)}
        </p>
      )}
      {list.data && items.length === 0 && (
        <p className="empty">
          {bin ? "The offcut bin is empty." : "No board yet. Choose a piece of wood and lay one on it."}
        </p>
      )}
      <ul className="cards">
        {items.map((b) => (
          <li key={b.id}>
            {bin ? (
              <div className="card-link">
                <BoardCard board={b} />
                <Button size="sm" variant="outline-primary" onClick={() => restore.mutate(b.id)}>
                  Put back
                </Button>
              </div>
            ) : (
              <Link to={`/boards/${b.id}`} className="card-link">
                <BoardCard board={b} />
              </Link>
            )}
          </li>
        ))}
      </ul>
      <Pages total={list.data?.total ?? 0} page={page} onPage={setPage} />
    </div>
  );
}

function BoardCard({ board: b }: { board: BoardLine }) {
  const { time } = useWorkshop();
  return (
    <>
      <div className="card-wood">
        <Silhouette {...silhouetteOf(b)} label={`Outline of ${b.name}`} seed={b.name} />
      </div>
      <strong>{b.name}</strong>
      {b.for && <span>for {b.for}</span>}
      <span className="quiet">
        {b.slab}
        {b.run && `, ${b.run.name}`}
      </span>
      {b.given || b.lost ? (
        <span>{b.lost ? "given up after a mishap" : "given away"}</span>
      ) : (
        <>
          {b.wrong && <span className="late">{b.wrong}: to be decided</span>}
          {b.steps > 0 && (
            <span className="ready">
              <LevelMark level={b.level} word={false} /> {b.done} of {b.steps} steps done
            </span>
          )}
          {b.due && b.steps > 0 && (
            <span className={b.late ? "late" : ""}>
              {time(`${b.due}T12:00:00Z`, false)}:{" "}
              {b.late ? `too late by ${showMinutes(-b.slack)}` : `${showMinutes(b.slack)} to spare`}
            </span>
          )}
        </>
      )}
    </>
  );
}
