// Boards of a run are laid over the pieces on the rack: of which shapes, on which pieces, as a search finds a place.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type PieceLine, type Run, type RunSheet, type SearchNews, type Spread } from "../api/client";
import { Choice, NumberField } from "../kit/fields";
import { pen, transformOf } from "../kit/drawing";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { Stretch } from "../layout/Stretch";
import { useSearch } from "../layout/useSearch";
import { People } from "./People";

type Design = NonNullable<Run["designs"]>[number];

interface Props {
  of: RunSheet;
  run: Run;
  saved: boolean;
  onChange: (some: Partial<Run>) => void;
}

export function Lay({ of, run, saved, onChange }: Props) {
  const client = useQueryClient();
  const [chosen, setChosen] = useState<string[]>([]);
  const [running, setRunning] = useState("");
  const news = useSearch(running);
  const pieces = useQuery({ queryKey: ["pieces", "all"], queryFn: () => unwrap(api.GET("/api/pieces")) });
  const path = { id: of.id };
  const seek = useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/runs/{id}/searches", { params: { path }, body: { pieces: chosen, seconds: 60 } })),
    onSuccess: (search) => setRunning(search.id),
  });
  const lay = useMutation({
    mutationFn: (spread: Spread) => {
      const boards = spread.pieces.flatMap((p) =>
        p.boards.map(({ want, placement, design }) => ({ piece: p.piece, want, placement, design })),
      );
      return unwrap(api.POST("/api/runs/{id}/lay", { params: { path }, body: { boards } }));
    },
    onSuccess: () => {
      setRunning("");
      void client.invalidateQueries();
    },
  });
  const designs = run.designs ?? [];
  const over = news !== null && news.state !== "running" && news.state !== "waiting";
  const rack = pieces.data?.items ?? [];
  return (
    <div className="lay-run">
      <Designs
        of={of}
        designs={designs}
        onChange={(to) => {
          setRunning(""); // what was found is of other shapes
          seek.reset();
          onChange({ designs: to });
        }}
      />
      <People people={run.people ?? []} onChange={(people) => onChange({ people })} />
      <section>
        <Pieces rack={rack} chosen={chosen} onChange={setChosen} />
        <Button
          disabled={designs.length === 0 || !saved || seek.isPending || (running !== "" && !over)}
          onClick={() => seek.mutate()}
        >
          Look for places
        </Button>
        <Wrong error={seek.error ?? lay.error} />
      </section>
      {news && (
        <section aria-live="polite">
          <h2>{over ? "Where they find room" : "Looking"}</h2>
          <Outcome news={news} rack={rack} />
          {over && news.spread && news.spread.laid > 0 && (
            <Button className="mt-2" disabled={lay.isPending} onClick={() => lay.mutate(news.spread!)}>
              {news.spread.laid === 1 ? "Lay this board" : `Lay these ${news.spread.laid} boards`}
            </Button>
          )}
        </section>
      )}
    </div>
  );
}

/** Pieces are chosen of the rack; none means all. */
function Pieces({
  rack,
  chosen,
  onChange,
}: {
  rack: PieceLine[];
  chosen: string[];
  onChange: (ids: string[]) => void;
}) {
  return (
    <>
      <h2>On which pieces</h2>
      <p className="facts">
        {chosen.length === 0
          ? "All that lie on the rack and are not reserved."
          : `${chosen.length} of ${rack.length} pieces.`}
      </p>
      <ul className="choose-boards">
        {rack.map((p) => (
          <li key={p.id}>
            <label className={chosen.includes(p.id) ? "is-chosen" : ""}>
              <input
                type="checkbox"
                checked={chosen.includes(p.id)}
                onChange={() => onChange(chosen.includes(p.id) ? chosen.filter((o) => o !== p.id) : [...chosen, p.id])}
              />
              <span>
                {p.name}
                <small>{p.species}</small>
              </span>
            </label>
          </li>
        ))}
      </ul>
    </>
  );
}

interface DesignsProps {
  of: RunSheet;
  designs: Design[];
  onChange: (designs: Design[]) => void;
}

function Designs({ of, designs, onChange }: DesignsProps) {
  const boards = useQuery({
    queryKey: ["boards", "", false, 0],
    queryFn: () => unwrap(api.GET("/api/boards", { params: { query: { q: "", bin: false, page: 0 } } })),
  });
  const shapes = useQuery({ queryKey: ["templates"], queryFn: () => unwrap(api.GET("/api/templates")) });
  const like = [
    ...(boards.data?.items ?? []).map((b) => ({ value: `board ${b.id}`, label: `${b.name}, ${b.slab}` })),
    ...(shapes.data ?? []).map((t) => ({ value: `shape ${t.id}`, label: `${t.name}, a kept shape` })),
  ];
  const valueOf = (d: Design) => (d.shape ? `shape ${d.shape}` : `board ${d.board}`);
  const made = (value: string): Partial<Design> => {
    const [kind, id] = value.split(" ");
    return kind === "shape" ? { shape: id, board: "" } : { board: id, shape: "" };
  };
  const change = (i: number, some: Partial<Design>) =>
    onChange(designs.map((d, k) => (k === i ? { ...d, ...some } : d)));
  return (
    <section>
      <h2>What is still to be laid</h2>
      {designs.map((d, i) => (
        <div key={i} className="design-line">
          <Choice label="Like" value={valueOf(d)} options={like} onChange={(to) => change(i, made(to))} />
          <NumberField
            label="How many"
            of="run.designs.count"
            whole
            value={d.count}
            onChange={(count) => change(i, { count })}
          />
          <NumberField
            label="Worth of one (0: its area)"
            of="run.designs.worth"
            value={d.worth ?? 0}
            onChange={(worth) => change(i, { worth })}
          />
          <Stretch
            ofLongest="run.designs.longest"
            ofWidest="run.designs.widest"
            value={d}
            onChange={(some) => change(i, some)}
          />
          <Button size="sm" variant="link" onClick={() => onChange(designs.filter((_, k) => k !== i))}>
            Take off
          </Button>
        </div>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        disabled={like.length === 0}
        onClick={() => onChange([...designs, { ...made(like[0].value), count: Math.max(1, of.missing) }])}
      >
        {designs.length === 0 ? "Choose a shape" : "Another shape"}
      </Button>
    </section>
  );
}

function Outcome({ news, rack }: { news: SearchNews; rack: PieceLine[] }) {
  if (news.spread) return <Found spread={news.spread} rack={rack} />;
  return <p className="facts">{news.state === "waiting" ? "It waits for its turn." : "Nothing laid yet."}</p>;
}

function Found({ spread, rack }: { spread: Spread; rack: PieceLine[] }) {
  const { length, value } = useWorkshop();
  return (
    <>
      <p>
        {spread.laid} of {spread.wanted} boards find room on{" "}
        {spread.pieces.length === 1 ? "one piece" : `${spread.pieces.length} pieces`}.
      </p>
      <ul className="plain-list spread">
        {spread.pieces.map((p) => (
          <li key={p.piece}>
            <OnPiece of={p} line={rack.find((l) => l.id === p.piece)} />
            <div>
              <strong>{p.name}</strong>
              <div className="facts">
                {p.boards.length === 1 ? "1 board" : `${p.boards.length} boards`}, {Math.round(p.yield)} % of it covered
              </div>
            </div>
          </li>
        ))}
      </ul>
      {spread.buy.map((b) => (
        <p key={b.want} className="caution">
          <strong>{b.boards === 1 ? "Wood for 1 board is missing" : `Wood for ${b.boards} boards is missing`}</strong> (
          {b.name}): pieces of {length(b.length)} × {length(b.width)} at least
          {b.thick > 0 && <>, for {length(b.thick)} in the end</>}
          {b.volume > 0 && <>; about {value(b.volume, "m³")} with what is cut away</>}.
        </p>
      ))}
    </>
  );
}

function OnPiece({ of: p, line }: { of: Spread["pieces"][number]; line?: PieceLine }) {
  if (!line) return null;
  return (
    <svg
      className="spread-picture"
      viewBox={`-4 ${-line.maxY - 4} ${line.length + 8} ${line.maxY - line.minY + 8}`}
      role="img"
      aria-label={`${p.name} with ${p.boards.length} more`}
    >
      <g transform="scale(1 -1)">
        <path d={line.path} fill={line.light} stroke={line.dark} {...pen} />
        {p.boards.map((b, i) => (
          <path
            key={i}
            transform={transformOf(b.placement)}
            d={[b.path, ...b.holes].join("")}
            fillRule="evenodd"
            className="laid"
            {...pen}
          />
        ))}
      </g>
    </svg>
  );
}
