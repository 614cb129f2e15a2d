// The boards of the slab: picked, doubled, turned, locked, and the biggest clean
// board that still fits.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, say, unwrap, type Board, type LaidOut, type LayoutDoc, type Point } from "../api/client";
import { turnedBy } from "../boards/frame";
import { PlaceFields } from "../boards/PlaceFields";
import type { Doc } from "../kit/document/useDocument";
import { Choice, kindsOf, Row, sawsOf, Tick } from "../kit/fields";
import { showMinutes } from "../kit/length";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import type { Asking } from "./asking";
import { copyOf } from "./sets";

// Shapes that no biggest clean board is sought of: they follow an edge or have no size of their own.
const unsought = ["free", "plank", "blade"];

interface Props {
  layout: LayoutDoc;
  doc: Doc<Board[], LaidOut>;
  picked: string;
  onPick: (id: string) => void;
  asking: Asking;
  onAsk: (a: Asking) => void;
  spot: Point | null;
  onSpot: (p: Point | null) => void;
}

export function BoardsPart({ layout, doc: d, picked, onPick, asking, onAsk, spot, onSpot }: Props) {
  const { value } = useWorkshop();
  const boards = d.doc;
  const board = boards.find((b) => b.id === picked);
  const set = (change: (b: Board) => Partial<Board>, kind = "") =>
    d.set((now) => now.map((b) => (b.id === picked ? { ...b, ...change(b) } : b)), kind);
  const add = (b: Board) => {
    d.set((now) => [...now, b]);
    onPick(b.id);
  };
  return (
    <>
      <h2>Boards on it</h2>
      {boards.length === 0 && (
        <p className="facts">None yet. Lay one, look for the biggest clean one, or let a search lay several.</p>
      )}
      <ol className="laid">
        {boards.map((b, i) => {
          const on = d.result.boards.find((o) => o.id === b.id);
          return (
            <li key={b.id} className={b.id === picked ? "is-picked" : ""}>
              <button type="button" className="laid-name" aria-pressed={b.id === picked} onClick={() => onPick(b.id)}>
                <span className="laid-number">{i + 1}</span> {b.name}
              </button>
              {on && <LevelMark level={on.level} word={false} />}
              {on && on.cents > 0 && <span className="facts">{value(on.cents, "cents")}</span>}
            </li>
          );
        })}
      </ol>
      {board && (
        <PickedBoard
          layout={layout}
          result={d.result}
          board={board}
          asking={asking}
          onAsk={onAsk}
          set={set}
          onDouble={() =>
            add(
              copyOf(board, `${board.name}, ${boards.length + 1}`, {
                placement: { ...board.placement, y: board.placement.y - board.design.width / 2 },
              }),
            )
          }
          onBin={() => d.set((now) => now.filter((b) => b.id !== picked))}
        />
      )}
      <Button
        size="sm"
        className="mt-2"
        onClick={() => add(copyOf(layout.fresh, `${layout.fresh.name}, ${boards.length + 1}`))}
      >
        Lay a new board
      </Button>
      <Biggest
        layout={layout}
        boards={boards}
        spot={spot}
        asking={asking}
        onAsk={onAsk}
        onSpot={onSpot}
        onFound={add}
      />
      <EndChecks layout={layout} />
    </>
  );
}

interface PickedProps {
  layout: LayoutDoc;
  result: LaidOut;
  board: Board;
  asking: Asking;
  onAsk: (a: Asking) => void;
  set: (change: (b: Board) => Partial<Board>, kind?: string) => void;
  onDouble: () => void;
  onBin: () => void;
}

/** PickedBoard is what can be done with the board that is picked. */
function PickedBoard({ layout, result, board, asking, onAsk, set, onDouble, onBin }: PickedProps) {
  const { tables, shop } = useWorkshop();
  const place = (p: Partial<Board["placement"]>, kind = "") =>
    set((b) => ({ placement: { ...b.placement, ...p } }), kind);
  return (
    <>
      <div className="d-flex gap-1 flex-wrap mt-2">
        <Button size="sm" variant="outline-primary" onClick={onDouble}>
          Double it
        </Button>
        <Button
          size="sm"
          variant="outline-primary"
          onClick={() => place({ angle: turnedBy(board.placement.angle, 180) })}
        >
          Turn end for end
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => place({ flip: !board.placement.flip })}>
          Flip it over
        </Button>
        <Button
          size="sm"
          variant={asking.what === "swap" ? "primary" : "outline-primary"}
          aria-pressed={asking.what === "swap"}
          onClick={() => onAsk({ what: asking.what === "swap" ? "" : "swap" })}
        >
          Change places
        </Button>
        <Button size="sm" variant="outline-secondary" onClick={onBin}>
          To the offcut bin
        </Button>
        <Link className="btn btn-sm btn-outline-primary" to={`/boards/${board.id}`}>
          Its sheet
        </Link>
      </div>
      <Tick
        label="Locked: it stays where it lies"
        value={board.locked ?? false}
        onChange={(locked) => set(() => ({ locked }))}
      />
      <Row>
        <PlaceFields at={board.placement} onChange={place} />
      </Row>
      <Choice
        label="Sawn out with"
        value={board.cut.saw}
        options={sawsOf(tables, shop)}
        onChange={(saw) => set((b) => ({ cut: { ...b.cut, saw } }))}
      />
      {layout.partner && (
        <Twin partner={layout.partner} board={board} result={result} onChange={(twin) => set(() => ({ twin }))} />
      )}
    </>
  );
}

/** EndChecks weighs cutting the checked ends off against filling them. */
function EndChecks({ layout }: { layout: LayoutDoc }) {
  const { length } = useWorkshop();
  if (layout.endChecks.length === 0) return null;
  return (
    <>
      <h2>Checks at the ends</h2>
      {layout.endChecks.map((e, i) => (
        <p key={e.end} className="facts">
          <strong>{e.end === "butt" ? "Butt end" : "Far end"}</strong>: cut off, {length(e.lost)} shorter;{" "}
          {`filled with ${e.filler}, ${showMinutes(e.gained)} of waiting.`}
          {layout.endChecks.length > 1 && i === 0 && " Spend this end first."}
        </p>
      ))}
    </>
  );
}

/** Twin is the board's mirror image on the leaf that opens like a book with this one. */
function Twin({
  partner,
  board,
  result,
  onChange,
}: {
  partner: { id: string; name: string };
  board: Board;
  result: LaidOut;
  onChange: (twin: Board["twin"]) => void;
}) {
  const { words } = useWorkshop();
  const on = result.twins.find((o) => o.id === board.twin?.board);
  if (!board.twin) {
    return (
      <Button
        size="sm"
        variant="outline-primary"
        className="mt-2"
        onClick={() => onChange({ board: crypto.randomUUID(), piece: partner.id })}
      >
        Lay its twin on {partner.name}
      </Button>
    );
  }
  return (
    <div className="flaw-card p-2 mt-2">
      <div>
        Its twin on <Link to={`/timber/${partner.id}/layout`}>{partner.name}</Link> goes where it goes.{" "}
        {on && <LevelMark level={on.level} />}
      </div>
      {on &&
        on.level !== "good" &&
        on.verdicts
          .filter((v) => v.level === on.level)
          .map((v, i) => (
            <div key={i} className="facts">
              {words(v.finding)}
            </div>
          ))}
      <Button size="sm" variant="outline-secondary" className="mt-1" onClick={() => onChange(undefined)}>
        Let each go its own way
      </Button>
    </div>
  );
}

interface BiggestProps {
  layout: LayoutDoc;
  boards: Board[];
  spot: Point | null;
  asking: Asking;
  onAsk: (a: Asking) => void;
  onSpot: (p: Point | null) => void;
  onFound: (b: Board) => void;
}

/** Biggest lays the biggest board of a shape that fits around flaws. */
function Biggest({ layout, boards, spot, asking, onAsk, onSpot, onFound }: BiggestProps) {
  const { tables } = useWorkshop();
  const [shape, setShape] = useState<Board["design"]["shape"]>("rectangle");
  const [free, setFree] = useState(true);
  const find = useMutation({
    mutationFn: () => {
      const board = { ...layout.fresh, id: "looked for", design: { ...layout.fresh.design, shape } };
      return unwrap(
        api.POST("/api/pieces/{id}/biggest", {
          params: { path: { id: layout.piece } },
          body: { boards, board, free: free && shape === "rectangle", spot: spot ?? undefined },
        }),
      );
    },
    onSuccess: (c) =>
      onFound(copyOf(layout.fresh, `Clean board ${boards.length + 1}`, { design: c.design, placement: c.placement })),
  });
  return (
    <>
      <h2>Biggest clean board</h2>
      <Row>
        <Choice
          label="Shape looked for"
          value={shape}
          options={kindsOf(tables.shapes).filter((o) => !unsought.includes(o.value))}
          onChange={setShape}
        />
        <Choice
          label="Where"
          value={spot || asking.what === "spot" ? "spot" : "anywhere"}
          options={[
            { value: "anywhere", label: "anywhere" },
            { value: "spot", label: "over a spot" },
          ]}
          onChange={(v) => {
            onSpot(null);
            onAsk({ what: v === "spot" ? "spot" : "" });
          }}
        />
      </Row>
      {shape === "rectangle" && <Tick label="any length and width" value={free} onChange={setFree} />}
      <Button size="sm" variant="outline-primary" disabled={find.isPending} onClick={() => find.mutate()}>
        {find.isPending ? "Looking" : "Lay the biggest"}
      </Button>
      {find.error && (
        <p className="wrong" role="alert">
          {say(find.error)}
        </p>
      )}
    </>
  );
}
