// A search for lay-outs: what is wished for, how far it has come, and up to
// three proposals side by side.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import {
  api,
  unwrap,
  type Board,
  type LaidOut,
  type LayoutDoc,
  type Proposal,
  type SearchNews,
  type Want,
} from "../api/client";
import type { Doc } from "../kit/document/useDocument";
import { transformOf } from "../kit/drawing";
import { Choice, LengthField, NumberField, RemoveButton, Row, Tick } from "../kit/fields";
import { cut, put } from "../kit/items";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";
import { Stretch } from "./Stretch";
import { useSearch } from "./useSearch";
import { laidBy, setOf, wantOf, type Wanted } from "./sets";

interface Props {
  layout: LayoutDoc;
  doc: Doc<Board[], LaidOut>;
  shown: Proposal | null;
  onShow: (p: Proposal | null) => void;
  onTaken: (id: string) => void;
}

export function SearchPart({ layout, doc: d, shown, onShow, onTaken }: Props) {
  const [wishes, setWishes] = useState<Wanted[]>(() => [
    wantOf([
      { ...layout.fresh, id: "wish", name: "Board", design: { ...layout.fresh.design, length: 240, width: 140 } },
    ]),
  ]);
  const [seconds, setSeconds] = useState(5);
  const [seed, setSeed] = useState(1);
  const [running, setRunning] = useState("");
  const [asked, setAsked] = useState<Wanted[]>([]);
  const news = useSearch(running);
  const moved = new Set(wishes.flatMap((w) => (w.moves ? w.from.map((b) => b.id) : [])));
  const press = useTyped(() => {
    setAsked(wishes);
    onShow(null);
    return unwrap(
      api.POST("/api/pieces/{id}/searches", {
        params: { path: { id: layout.piece } },
        body: {
          boards: d.doc.filter((b) => !moved.has(b.id)),
          seconds,
          seeking: { wants: wishes.map((w) => w.want), seed },
        },
      }),
    );
  });
  const begin = useMutation({
    mutationFn: press,
    onSuccess: (s) => setRunning(s.id),
  });
  const stop = useMutation({
    mutationFn: () => unwrap(api.POST("/api/searches/{id}/stop", { params: { path: { id: running } } })),
  });
  const busy = news !== null && (news.state === "waiting" || news.state === "running");
  const proposals = news?.proposals ?? [];
  const best = useRef<Proposal | null>(null);
  useEffect(() => {
    if (busy && proposals[0] && proposals[0] !== best.current) {
      best.current = proposals[0];
      onShow(proposals[0]); // it is drawn as it improves
    }
  });
  const change = (i: number, part: Partial<Want>) =>
    setWishes((all) => put(all, i, { want: { ...all[i].want, ...part } }));
  const take = (p: Proposal) => {
    const laid = laidBy(p.boards, asked, layout.partner?.id ?? "");
    // What the search could not lay stays where it was.
    d.set((now) => [...now.filter((b) => !laid.some((l) => l.id === b.id)), ...laid]);
    onShow(null);
    setRunning("");
    if (laid.length > 0) onTaken(laid[laid.length - 1].id);
  };
  return (
    <>
      {news && <Progress news={news} seconds={seconds} onStop={busy ? () => stop.mutate() : undefined} />}
      {proposals.length > 0 && (
        <div className="proposals">
          {proposals.map((p, i) => (
            <ProposalCard
              key={i}
              layout={layout}
              kept={d.doc.filter((b) => !asked.some((w) => w.moves && w.from.some((o) => o.id === b.id)))}
              result={d.result}
              proposal={p}
              number={i + 1}
              shown={p === shown}
              onShow={() => onShow(p === shown ? null : p)}
              onTake={() => take(p)}
            />
          ))}
        </div>
      )}
      <h2>What you wish for</h2>
      <p className="facts">
        Boards that lie on the slab stay where they are. Flaws to be kept out or cut away are kept clear of.
      </p>
      {wishes.map((o, i) => (
        <WantCard
          key={i}
          n={i}
          wanted={o}
          partner={layout.partner?.name}
          change={(part) => change(i, part)}
          onRemove={wishes.length > 1 ? () => setWishes((all) => cut(all, i)) : undefined}
        />
      ))}
      <OneMore
        layout={layout}
        boards={d.doc}
        moved={moved}
        number={wishes.length + 1}
        onAdd={(o) => setWishes((all) => [...all, o])}
      />
      <Row>
        <Choice
          label="Search for"
          value={String(seconds)}
          options={["5", "15", "60"].map((s) => ({ value: s, label: `${s} seconds` }))}
          onChange={(s) => setSeconds(Number(s))}
        />
        <NumberField label="Begin from number" whole value={seed} least={1} most={1e6} onChange={setSeed} />
      </Row>
      <div className="d-flex gap-2 mt-1">
        <Button size="sm" disabled={busy || begin.isPending} onClick={() => begin.mutate()}>
          Begin the search
        </Button>
      </div>
      <Wrong error={begin.error} />
    </>
  );
}

interface WantProps {
  /** Place among the wishes. */
  n: number;
  wanted: Wanted;
  /** Name of the leaf that opens like a book with this one. */
  partner?: string;
  change: (part: Partial<Want>) => void;
  /** Left out for the only one. */
  onRemove?: () => void;
}

/** WantCard is one wish: what is to be laid, how many, and how freely. */
function WantCard({ n, wanted: { want: w, from, moves }, partner, change, onRemove }: WantProps) {
  return (
    <fieldset className="wish">
      <legend>
        {from.map((b) => b.name).join(" with ")}
        <RemoveButton what={`wish ${n + 1}`} disabled={!onRemove} onClick={() => onRemove?.()} />
      </legend>
      {from.length > 1 ? (
        <p className="facts">Laid as one, as they nest, a saw's width apart.</p>
      ) : (
        <Row>
          <LengthField
            label="Length"
            name={`wish-${n}-length`}
            of="board.design.length"
            mm={w.board.design.length}
            onChange={(length) => change({ board: { ...w.board, design: { ...w.board.design, length } } })}
          />
          <LengthField
            label="Width"
            name={`wish-${n}-width`}
            of="board.design.width"
            mm={w.board.design.width}
            onChange={(width) => change({ board: { ...w.board, design: { ...w.board.design, width } } })}
          />
        </Row>
      )}
      {!moves && (
        <Row>
          <NumberField
            label="At least"
            whole
            of="want.least"
            value={w.least}
            most={w.most}
            onChange={(least) => change({ least })}
          />
          <NumberField
            label="At most"
            whole
            of="want.most"
            value={w.most}
            onChange={(most) => change({ most, least: Math.min(w.least, most) })}
          />
          <NumberField
            label="Worth of one (0: its area)"
            of="want.worth"
            value={w.worth ?? 0}
            onChange={(worth) => change({ worth })}
          />
        </Row>
      )}
      <Row>
        {from.length === 1 && <Stretch ofLongest="want.longest" ofWidest="want.widest" value={w} onChange={change} />}
        <NumberField
          label="Tilted by"
          unit="°"
          of="want.tilt"
          value={w.tilt ?? 0}
          onChange={(tilt) => change({ tilt })}
        />
      </Row>
      <div className="d-flex gap-3 flex-wrap">
        <Tick label="end for end" value={w.turn} onChange={(turn) => change({ turn })} />
        <Tick label="turned over" value={w.flip ?? false} onChange={(flip) => change({ flip })} />
        {partner && (
          <Tick
            label={`each with its twin on ${partner}`}
            value={w.twin ?? false}
            onChange={(twin) => change({ twin })}
          />
        )}
      </div>
    </fieldset>
  );
}

interface MoreProps {
  layout: LayoutDoc;
  boards: Board[];
  /** Ids of boards that a wish lays anew already. */
  moved: Set<string>;
  number: number;
  onAdd: (wanted: Wanted) => void;
}

/** OneMore adds a wish, for a new board or one like what there is. */
function OneMore({ layout, boards, moved, number, onAdd }: MoreProps) {
  const templates = useQuery({ queryKey: ["templates"], queryFn: () => unwrap(api.GET("/api/templates")) });
  const sets = boards
    .map((b) => setOf(boards, b.id))
    .filter((set) => set.length > 1 && set.every((b) => boards.indexOf(b) >= boards.indexOf(set[0])));
  const free = (b: Board) => !b.locked && !moved.has(b.id);
  return (
    <Choice
      label="Wish for one more"
      value=""
      options={[
        { value: "", label: "choose" },
        { value: "new", label: "a soft rectangle" },
        ...boards.map((b) => ({ value: `like ${b.id}`, label: `one like ${b.name}` })),
        ...sets.map((set) => ({
          value: `set ${set[0].id}`,
          label: `a set like ${set.map((b) => b.name).join(" with ")}`,
        })),
        ...boards
          .filter((b) => free(b) && !sets.some((set) => set.includes(b)))
          .map((b) => ({ value: `move ${b.id}`, label: `${b.name} itself, laid anew` })),
        ...sets
          .filter((set) => set.every(free))
          .map((set) => ({
            value: `anew ${set[0].id}`,
            label: `${set.map((b) => b.name).join(" with ")}, laid anew as one`,
          })),
        ...(templates.data ?? []).map((t) => ({ value: `shape ${t.id}`, label: `the shape ${t.name}` })),
      ]}
      onChange={(v) => {
        const [how, id = ""] = v.split(" ");
        const from = boards.find((b) => b.id === id);
        const shape = templates.data?.find((t) => t.id === id);
        const makes: Record<string, () => Wanted | undefined> = {
          new: () => wantOf([{ ...layout.fresh, id: "wish", name: `Board ${number}` }]),
          like: () => from && wantOf([from]),
          set: () => wantOf(setOf(boards, id)),
          move: () => from && wantOf([from], true),
          anew: () => wantOf(setOf(boards, id), true),
          shape: () =>
            shape &&
            wantOf([
              {
                ...layout.fresh,
                id: "wish",
                name: shape.name,
                design: { ...shape.design, thickness: layout.fresh.design.thickness },
              },
            ]),
        };
        const next = makes[how]?.();
        if (next) onAdd(next);
      }}
    />
  );
}

function Progress({ news, seconds, onStop }: { news: SearchNews; seconds: number; onStop?: () => void }) {
  const words: Record<SearchNews["state"], string> = {
    waiting: news.ahead === 1 ? "One search comes before it." : `${news.ahead} searches come before it.`,
    running: `${news.moves} moves tried.`,
    done: `Done after ${news.moves} moves.`,
    stopped: `Stopped after ${news.moves} moves.`,
    failed: `The search broke off: ${news.wrong}. What was found so far stays; begin from another number.`,
    cancelled: "It was given up, since no page looked on.",
  };
  return (
    <div className="search-state" data-state={news.state}>
      <progress
        max={seconds}
        value={news.state === "running" ? news.seconds : news.state === "waiting" ? 0 : seconds}
        aria-label="How far the search has come"
      />
      <span role="status">{words[news.state]}</span>
      {!onStop && news.state !== "failed" && news.proposals.length === 0 && (
        <p className="wrong">
          Nothing of it fits beside what is laid, clear of what is to be kept out. Lay boards anew that lie in the way,
          or wish for something smaller.
        </p>
      )}
      {onStop && (
        <Button size="sm" variant="outline-primary" onClick={onStop}>
          Stop, keep the best
        </Button>
      )}
    </div>
  );
}

interface CardProps {
  layout: LayoutDoc;
  kept: Board[];
  result: LaidOut;
  proposal: Proposal;
  number: number;
  shown: boolean;
  onShow: () => void;
  onTake: () => void;
}

/** ProposalCard shows one proposal small, with its figures. */
function ProposalCard({ layout, kept, result, proposal: p, number, shown, onShow, onTake }: CardProps) {
  const { length } = useWorkshop();
  const w = layout.wood;
  return (
    <article className={`proposal ${shown ? "is-shown" : ""}`} aria-label={`Proposal ${number}`}>
      <button
        type="button"
        className="proposal-picture"
        aria-pressed={shown}
        aria-label={`Show proposal ${number} on the wood`}
        onClick={onShow}
      >
        <svg viewBox={`0 ${-w.maxY} ${w.length} ${w.maxY - w.minY}`} aria-hidden="true">
          <g transform="scale(1 -1)">
            <path d={w.usable} fill={w.species.light} stroke={w.species.dark} strokeWidth={3} />
            {kept.map((b) => {
              const on = result.boards.find((o) => o.id === b.id);
              return (
                on && <path key={b.id} d={on.path} transform={transformOf(b.placement)} className="proposal-kept" />
              );
            })}
            {p.boards.map((b, i) => (
              <path
                key={i}
                d={[b.path, ...b.holes].join("")}
                transform={transformOf(b.placement)}
                className="proposal-board"
                fillRule="evenodd"
              />
            ))}
          </g>
        </svg>
      </button>
      <div className="facts">
        {p.boards.length} boards, {p.yield.toFixed(0)} % of the wood, {length(Math.round(p.rest))} left whole at one
        end.
      </div>
      {!p.met && <div className="wrong">Not all that must be laid fits.</div>}
      {p.short.map((s) => (
        <div key={s} className="facts">
          {s}
        </div>
      ))}
      <Button size="sm" onClick={onTake}>
        Take it
      </Button>
    </article>
  );
}
