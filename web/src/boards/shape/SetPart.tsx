// Sets: boards that nest. A board is split by a line, or gets a mate for one of
// its edges; the set is shown nested and apart.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type Board, type Mate, type Node, type Reckoned, type Wood } from "../../api/client";
import { cut, put } from "../../kit/items";
import { Wrong } from "../../kit/parts";
import { useTyped } from "../../kit/readings";
import { standing } from "../frame";
import { transformOf } from "../../kit/drawing";
import { Choice, LengthField, NumberField, RemoveButton, Row } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";
import type { Shaping } from "./lines";

const sides = ["left", "right", "handle end", "far end"] as const;

interface Props {
  others: Board[];
  board: Board;
  r: Reckoned;
  wood: Wood;
  shaping: Shaping;
  version: () => number;
  ready: boolean;
  onMates: (mates: Mate[]) => void;
}

export function SetPart({ others, board, r, wood, shaping, version, ready, onMates }: Props) {
  const client = useQueryClient();
  const [gap, setGap] = useState(0.8);
  const laying: Laying = { id: board.id, version, ready, gap, onDone: () => void client.invalidateQueries() };
  return (
    <>
      {board.twin && (
        <p className="facts">
          It has a <Link to={`/boards/${board.twin.board}`}>twin</Link> on the leaf that opens like a book with this
          one: what is changed here changes there, in the mirror. They are let go of each other where the piece is{" "}
          <Link to={`/timber/${board.twin.piece}/layout`}>laid out</Link>.
        </p>
      )}
      {r.shape.set.length > 0 && <Nest r={r} wood={wood} apart={false} />}
      {r.shape.set.length > 0 && <Nest r={r} wood={wood} apart />}
      {r.shape.set.length > 0 && <EachOther board={board} laying={laying} />}
      <Mates board={board} others={others} r={r} gap={gap} onMates={onMates} />
      <LengthField label="Gap between mates" of="splitting.gap" mm={gap} onChange={setGap} />
      <Split laying={laying} shaping={shaping} box={r.box} />
      <NewMate laying={laying} />
      <SameAgain laying={laying} />
    </>
  );
}

/** EachOther is every board of the set with every other one at its side. */
function EachOther({ board, laying }: { board: Board; laying: Laying }) {
  const { length } = useWorkshop();
  const query = { gap: laying.gap };
  const set = useQuery({
    queryKey: ["boards", board.id, "set", laying.gap, laying.version()],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/set", { params: { path: { id: board.id }, query } })),
    enabled: laying.ready,
    placeholderData: (before) => before,
  });
  const ask = useMutation({
    mutationFn: (which: "every pair" | "with this one") =>
      unwrap(
        api.POST("/api/boards/{id}/set", { params: { path: { id: board.id } }, body: { which, gap: laying.gap } }),
      ),
    onSuccess: laying.onDone,
  });
  if (!set.data || set.data.boards.length < 2) return <Wrong error={set.error} />;
  const { boards, pairs } = set.data;
  const how = (p: (typeof pairs)[number]) => {
    const end = p.side === "far end" ? ", end to end" : "";
    if (p.fits) return `nests${p.turned ? ", either way round" : ""}${end}`;
    if (p.turned) return `nests turned round${end}`;
    return p.clash > 0.1 ? `jams by ${length(p.clash)}` : "no";
  };
  return (
    <section className="set-table">
      <h2>Each against every other</h2>
      <div className="table-responsive" tabIndex={0} role="group" aria-label="Which boards of the set nest">
        <table className="rungs">
          <thead>
            <tr>
              <th scope="col">Board</th>
              {boards.map((b) => (
                <th key={b.id} scope="col">
                  {b.name} beside it
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {boards.map((one) => (
              <tr key={one.id}>
                <th scope="row">{one.name}</th>
                {boards.map((other) => {
                  const p = pairs.find((o) => o.one === one.id && o.other === other.id);
                  return (
                    <td key={other.id} data-fits={p ? String(p.fits || p.turned) : undefined}>
                      {p && how(p)}
                      {p?.must && " ✓"}
                    </td>
                  );
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="facts">Beside it is at its right, seen from its far end. ✓: they are asked to mate.</p>
      <div className="d-flex flex-wrap gap-2">
        <Button
          size="sm"
          variant="outline-primary"
          disabled={!laying.ready || ask.isPending}
          onClick={() => ask.mutate("every pair")}
        >
          Every pair must mate
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          disabled={!laying.ready || ask.isPending}
          onClick={() => ask.mutate("with this one")}
        >
          All must mate with this one
        </Button>
      </div>
      <Wrong error={ask.error ?? set.error} />
    </section>
  );
}

/** Laying is what a new board beside this one is laid with. */
interface Laying {
  id: string;
  version: () => number;
  /** What is open here is stored: the server works on what it has. */
  ready: boolean;
  gap: number;
  onDone: () => void;
}

interface MatesProps {
  board: Board;
  others: Board[];
  r: Reckoned;
  gap: number;
  onMates: (mates: Mate[]) => void;
}

/** Mates are the boards that it must mate with. */
function Mates({ board, others, r, gap, onMates }: MatesProps) {
  const mates = board.mates ?? [];
  const all = useQuery({ queryKey: ["boards", "mates"], queryFn: () => unwrap(api.GET("/api/boards")) });
  const known = new Set([board.id, ...mates.map((m) => m.board), ...others.map((o) => o.id)]);
  const here = others.filter((o) => !mates.some((m) => m.board === o.id));
  const elsewhere = (all.data?.items ?? []).filter((o) => !known.has(o.id) && !o.given);
  /** One on this slab mates where it lies, one on another slab beside this board. */
  const take = (id: string) => {
    const other = others.find((o) => o.id === id);
    const far = elsewhere.find((o) => o.id === id);
    const beside = { x: 0, y: Math.round(r.box[3] + gap - (far?.box[1] ?? 0)), angle: 0, flip: false };
    onMates([...mates, { board: id, at: other ? standing(board, other) : beside, gap }]);
  };
  return (
    <>
      {mates.map((m, i) => {
        const stand = (at: Partial<Mate["at"]>) => onMates(put(mates, i, { at: { ...m.at, ...at } }));
        return (
          <div key={m.board} className="flaw-card p-2">
            <div className="d-flex align-items-center">
              <Link to={`/boards/${m.board}?stage=shape`} className="flex-grow-1">
                {r.shape.set.find((o) => o.board === m.board)?.name ?? "A board that is not there any more"}
              </Link>
              <RemoveButton what="the mate" onClick={() => onMates(cut(mates, i))} />
            </div>
            <Row>
              <LengthField
                label="Gap wanted"
                of="board.mates.gap"
                mm={m.gap}
                onChange={(v) => onMates(put(mates, i, { gap: v }))}
              />
              <LengthField label="Stands along" of="board.placement.x" mm={m.at.x} onChange={(x) => stand({ x })} />
              <LengthField label="to the left" of="board.placement.y" mm={m.at.y} onChange={(y) => stand({ y })} />
              <NumberField
                label="turned"
                unit="°"
                of="board.placement.angle"
                value={m.at.angle}
                onChange={(angle) => stand({ angle })}
              />
            </Row>
          </div>
        );
      })}
      {here.length + elsewhere.length > 0 && (
        <Choice
          label="Must also mate with"
          value=""
          options={[
            { value: "", label: "no other" },
            ...here.map((o) => ({ value: o.id, label: o.name })),
            ...elsewhere.map((o) => ({ value: o.id, label: `${o.name}, on another piece` })),
          ]}
          onChange={(id) => id && take(id)}
        />
      )}
    </>
  );
}

/** across is a wave through the middle of a box, whose ends lie past its edges. */
function across([x0, y0, x1, y1]: number[]): Node[] {
  const [l, middle, high] = [x1 - x0, (y0 + y1) / 2, (y1 - y0) * 0.12];
  const at = (share: number, y: number): Node => ({
    x: Math.round(x0 - 10 + share * (l + 20)),
    y: Math.round(middle + y),
    kind: "smooth",
  });
  return [at(0, 0), at(0.3, high), at(0.7, -high), at(1, 0)];
}

/** Split cuts the board in two by a line. */
function Split({ laying: { id, version, ready, gap, onDone }, shaping, box }: SplitProps) {
  const { line, setLine } = shaping;
  const press = useTyped(() =>
    unwrap(api.POST("/api/boards/{id}/split", { params: { path: { id } }, body: { version: version(), line, gap } })),
  );
  const split = useMutation({
    mutationFn: press,
    onSuccess: () => {
      setLine([]);
      onDone();
    },
  });
  const add = () => {
    const last = line[line.length - 1];
    setLine([...line.slice(0, -1), { ...last, x: last.x - 40 }, last]);
  };
  if (line.length === 0) {
    return (
      <>
        <h2>Split it by a line</h2>
        <Button size="sm" variant="outline-primary" onClick={() => setLine(across(box))}>
          Draw a line across
        </Button>
      </>
    );
  }
  return (
    <>
      <h2>Split it by a line</h2>
      <p className="facts">Drag its points on the drawing; its ends lie past the edges.</p>
      {line.map((n, i) => (
        <Row key={i}>
          <LengthField
            label={`Point ${i + 1}: along`}
            of="board.design.nodes.x"
            mm={n.x}
            onChange={(x) => setLine((now) => put(now, i, { x }))}
          />
          <LengthField
            label="to the left"
            of="board.design.nodes.y"
            mm={n.y}
            onChange={(y) => setLine((now) => put(now, i, { y }))}
          />
        </Row>
      ))}
      <div className="d-flex gap-2 flex-wrap">
        <Button size="sm" disabled={!ready || split.isPending} onClick={() => split.mutate()}>
          Split the board
        </Button>
        <Button size="sm" variant="outline-primary" onClick={add}>
          Add a point
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={() => setLine([])}>
          Leave it whole
        </Button>
      </div>
      <Wrong error={split.error} />
    </>
  );
}

interface SplitProps {
  laying: Laying;
  shaping: Shaping;
  box: number[];
}

/** NewMate lays a board whose edge mates with one of this board's. */
function NewMate({ laying: { id, version, ready, gap, onDone } }: { laying: Laying }) {
  const [side, setSide] = useState<(typeof sides)[number]>("left");
  const [width, setWidth] = useState(100);
  const press = useTyped(() =>
    unwrap(
      api.POST("/api/boards/{id}/mate", { params: { path: { id } }, body: { version: version(), side, width, gap } }),
    ),
  );
  const mate = useMutation({
    mutationFn: press,
    onSuccess: onDone,
  });
  return (
    <>
      <h2>A mate for an edge</h2>
      <Row>
        <Choice label="Edge" value={side} options={sides} onChange={setSide} />
        <LengthField label="Width of the mate" of="mating.width" mm={width} onChange={setWidth} />
      </Row>
      <Button size="sm" variant="outline-primary" disabled={!ready || mate.isPending} onClick={() => mate.mutate()}>
        Lay its mate
      </Button>
      <Wrong error={mate.error} />
    </>
  );
}

/** SameAgain lays the same board several times. */
function SameAgain({ laying: { id, version, ready, onDone } }: { laying: Laying }) {
  const [count, setCount] = useState(8);
  const press = useTyped(() =>
    unwrap(api.POST("/api/boards/{id}/copies", { params: { path: { id } }, body: { version: version(), count } })),
  );
  const again = useMutation({
    mutationFn: press,
    onSuccess: onDone,
  });
  return (
    <>
      <h2>Same again</h2>
      <Row>
        <NumberField label="How many more" whole of="copies.count" value={count} onChange={setCount} />
      </Row>
      <Button size="sm" variant="outline-primary" disabled={!ready || again.isPending} onClick={() => again.mutate()}>
        Same again × {count}
      </Button>
      <Wrong error={again.error} />
    </>
  );
}

/** Nest draws a set nested, or drawn apart so that each board is seen whole. */
function Nest({ r, wood, apart }: { r: Reckoned; wood: Wood; apart: boolean }) {
  const members = r.shape.set.map((m) => {
    const l = Math.hypot(m.at.x, m.at.y) || 1;
    const away = apart ? 40 / l : 0;
    return { ...m, at: { ...m.at, x: m.at.x * (1 + away), y: m.at.y * (1 + away) } };
  });
  const reach = Math.max(r.box[2] - r.box[0], r.box[3] - r.box[1]);
  const xs = [r.box[0], r.box[2], ...members.flatMap((m) => [m.at.x - reach / 2, m.at.x + reach / 2])];
  const ys = [r.box[1], r.box[3], ...members.flatMap((m) => [m.at.y - reach / 3, m.at.y + reach / 3])];
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  const look = {
    fill: wood.species.light,
    stroke: wood.species.dark,
    strokeWidth: 1.4,
    fillRule: "evenodd" as const,
    vectorEffect: "non-scaling-stroke" as const,
  };
  return (
    <figure className="nest">
      <svg
        viewBox={`${x0 - 5} ${-y1 - 5} ${x1 - x0 + 10} ${y1 - y0 + 10}`}
        role="img"
        aria-label={apart ? "The set apart" : "The set nested"}
      >
        <g transform="scale(1 -1)">
          <path d={[r.path, ...r.holes].join("")} {...look} />
          {members.map((m) => (
            <path key={m.board} d={[m.path, ...m.holes].join("")} transform={transformOf(m.at)} {...look} />
          ))}
        </g>
      </svg>
      <figcaption>{apart ? "Apart" : "Nested"}</figcaption>
    </figure>
  );
}
