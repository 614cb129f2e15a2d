// All boards of a slab laid out together: by hand, or by a search; then cut up
// in order.
import { named } from "../api/asking";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useRef, useState } from "react";
import { Link, useParams, useSearchParams } from "react-router";
import {
  api,
  storing,
  unwrap,
  type Board,
  type Held,
  type LaidOut,
  type LayoutDoc,
  type Placed,
  type Point,
  type Proposal,
  type Remedy,
} from "../api/client";
import { Away } from "../kit/away";
import { useDocument, useUndoKeys, type Doc } from "../kit/document/useDocument";
import { merge } from "../kit/merge";
import { Parts } from "../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../kit/saved";
import { LevelMark, Verdicts } from "../kit/verdicts";
import { useTitle } from "../kit/title";
import { useWorkshop } from "../kit/workshop";
import type { Asking } from "./asking";
import { BoardsPart } from "./BoardsPart";
import { CutsPart, WastePart } from "./CutsPart";
import { LayoutDrawing } from "./LayoutDrawing";
import { SearchPart } from "./SearchPart";

export default function LayoutPlace() {
  const { id = "" } = useParams();
  const layout = useQuery({
    queryKey: ["layout", id],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}/layout", { params: { path: { id } } })),
    gcTime: 0,
    refetchOnWindowFocus: false,
  });
  if (!layout.data) return <Away of={layout} />;
  return <Editor key={id} layout={layout.data} />;
}

const parts = { boards: "Boards", search: "Search", cuts: "Cuts", waste: "Waste" } as const;
type Part = keyof typeof parts;

/** useLayout opens the boards of a slab as one document. */
function useLayout(layout: LayoutDoc) {
  const client = useQueryClient();
  const path = { id: layout.piece };
  const versions = useRef(new Map(layout.boards.map((b) => [b.board.id, b.version])));
  const stored = useRef(new Map(layout.boards.map((b) => [b.board.id, b.board])));
  const first = useMemo(() => layout.boards.map((b) => b.board), [layout]);
  const d = useDocument({
    doc: first,
    version: 1,
    result: layout.result,
    draft: (boards) => unwrap(api.POST("/api/pieces/{id}/layout/draft", { params: { path }, body: { boards } })),
    // Only what has changed is stored; each board has a version of its own.
    save: async (boards, version, name) => {
      const changed = boards.filter((b) => stored.current.get(b.id) !== b);
      const binned = [...stored.current.keys()].filter((id) => !boards.some((b) => b.id === id));
      const saved = await storing(
        api.PUT("/api/pieces/{id}/layout", {
          ...named(name),
          params: { path },
          body: { boards: changed.map((board) => ({ version: versions.current.get(board.id) ?? 0, board })), binned },
        }),
      );
      const laid = "stored" in saved ? saved.stored : saved.data.boards;
      for (const b of laid) versions.current.set(b.board.id, b.version);
      if ("stored" in saved) {
        const theirs = laid.map((b) => b.board);
        stored.current = new Map(theirs.map((b) => [b.id, b]));
        return { version, stored: theirs };
      }
      stored.current = new Map(boards.map((b) => [b.id, b]));
      const alone = new Set(laid.filter((b) => !b.board.twin).map((b) => b.board.id));
      // A twin has gone its own way.
      if (boards.some((b) => b.twin && alone.has(b.id)))
        d.set((all) => all.map((b) => (alone.has(b.id) ? { ...b, twin: undefined } : b)));
      void client.invalidateQueries({ queryKey: ["boards"] });
      return { version: version + 1 };
    },
  });
  return d;
}

function Editor({ layout }: { layout: LayoutDoc }) {
  const [search, setSearch] = useSearchParams();
  const asked = search.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : "boards";
  const d = useLayout(layout);
  useUndoKeys(d);
  useTitle(`Lay out ${layout.name}`, 1);
  const [picked, pick] = useState(d.doc[0]?.id ?? "");
  const [flipped, setFlipped] = useState(false);
  const [snapping, setSnapping] = useState(true);
  const [asking, ask] = useState<Asking>({ what: "" });
  const [spot, setSpot] = useState<Point | null>(null);
  const [shown, show] = useState<Proposal | null>(null);
  const [held, hold] = useState<Held | null>(null); // by an offcut
  const boards = d.doc;
  const board = boards.find((b) => b.id === picked);
  const change = d.set;
  const set = useCallback(
    (id: string, part: (b: Board) => Board, kind = "") =>
      change((now) => now.map((b) => (b.id === id ? part(b) : b)), kind),
    [change],
  );
  const swap = (other: string) => {
    const [a, b] = [board, boards.find((o) => o.id === other)];
    ask({ what: "" });
    if (!a || !b || a.id === b.id) return;
    const places = new Map([
      [a.id, b.placement],
      [b.id, a.placement],
    ]);
    change((now) =>
      now.map((o) => ({ ...o, placement: { ...(places.get(o.id) ?? o.placement), flip: o.placement.flip } })),
    );
  };
  const onRemedy = (r: Remedy) => set(picked, (b) => merge(b, r.patch));
  const open = (to: Part) => {
    show(null);
    hold(null);
    setSearch(to === "boards" ? {} : { part: to }, { replace: true });
  };
  return (
    <div className="work layout-page">
      <Head layout={layout} doc={d} />
      <SaveNotice doc={d} />
      <div className="work-body">
        <section className="work-wood" aria-label="The wood">
          <LayoutDrawing
            layout={layout}
            doc={d}
            picked={picked}
            onPick={(id) => (asking.what === "swap" ? swap(id) : pick(id))}
            flipped={flipped}
            onFlip={() => setFlipped(!flipped)}
            snapping={snapping}
            onSnapping={setSnapping}
            asking={asking}
            onSpot={(p) => {
              setSpot(p);
              ask({ what: "" });
            }}
            spot={spot}
            cuts={part === "cuts" ? d.result.cuts : []}
            shown={shownOf(part, shown, held)}
          />
          <Under result={d.result} picked={picked} onPick={pick} onRemedy={onRemedy} />
        </section>
        <section className="work-panel" aria-label="Lay out">
          <Parts parts={parts} open={part} onOpen={open} />
          <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
            {part === "boards" && (
              <BoardsPart
                layout={layout}
                doc={d}
                picked={picked}
                onPick={pick}
                asking={asking}
                onAsk={ask}
                spot={spot}
                onSpot={setSpot}
              />
            )}
            <div hidden={part !== "search"}>
              <SearchPart layout={layout} doc={d} shown={shown} onShow={show} onTaken={pick} />
            </div>
            {part === "cuts" && <CutsPart cuts={d.result.cuts} />}
            {part === "waste" && <WastePart layout={layout} doc={d} held={held} onHold={hold} />}
          </div>
        </section>
      </div>
    </div>
  );
}

/** shownOf are the boards that a part shows on the wood, and that do not lie there. */
function shownOf(
  part: Part,
  proposal: Proposal | null,
  held: Held | null,
): Pick<Placed, "path" | "holes" | "placement">[] {
  if (part === "search" && proposal) return proposal.boards;
  if (part === "waste" && held) return [{ path: held.path, holes: [], placement: held.at }];
  return [];
}

/** Head is the slab's name, how the lay-out stands, and the other leaves. */
function Head({ layout, doc: d }: { layout: LayoutDoc; doc: Doc<Board[], LaidOut> }) {
  return (
    <header className="page-head">
      <Link to={`/timber/${layout.piece}`} className="back">
        {layout.name}
      </Link>
      <h1>Lay out</h1>
      <LevelMark level={d.result.level} />
      <SaveMark doc={d} />
      <UndoButtons doc={d} />
      {layout.leaves.length > 0 && (
        <nav className="leaves" aria-label="Other pieces of the same wood">
          {layout.leaves.map((l) => (
            <Link key={l.id} className="btn btn-sm btn-outline-primary" to={`/timber/${l.id}/layout`}>
              {l.name}
            </Link>
          ))}
        </nav>
      )}
      <span className="ms-auto">
        <a className="btn btn-sm btn-primary" href={`/api/pieces/${layout.piece}/cuts.pdf`} download>
          Cut list, PDF
        </a>
      </span>
    </header>
  );
}

interface UnderProps {
  result: LaidOut;
  picked: string;
  onPick: (id: string) => void;
  onRemedy: (r: Remedy) => void;
}

/** Under the drawing stands what is not met, and what is judged of the boards. */
function Under({ result, picked, onPick, onRemedy }: UnderProps) {
  const { words } = useWorkshop();
  const on = result.boards.find((b) => b.id === picked);
  const stops = result.boards.filter((b) => b.level !== "good" && b.id !== picked);
  return (
    <div className="under-drawing">
      <div>
        {result.unmet.map((w) => (
          <p key={w.id} className="facts">
            {words(w.finding)}
          </p>
        ))}
        {stops.length > 0 && (
          <ul className="on-it" aria-label="Other boards to look at">
            {stops.map((b) => (
              <li key={b.id}>
                <button type="button" className="text-link" onClick={() => onPick(b.id)}>
                  {b.name}
                </button>
                <LevelMark level={b.level} />
                <span className="facts">{words(b.verdicts[0]?.finding ?? "")}</span>
              </li>
            ))}
          </ul>
        )}
      </div>
      <div>{on && <Verdicts verdicts={on.verdicts} onRemedy={onRemedy} />}</div>
    </div>
  );
}
