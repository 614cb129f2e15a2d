// The card of a board: its lines, what they are printed on, and the page that its code leads to.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type Board, type CardLine } from "../api/client";
import { Choice, LengthField, Row, TextField, Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";

type GiftCard = NonNullable<Board["give"]["card"]>;

const prints = [
  { kind: "card", label: "Card, A6 folded" },
  { kind: "flat", label: "Card, A6" },
  { kind: "cards", label: "Cards to cut, A6" },
  { kind: "tag", label: "Tag, A7" },
  { kind: "tags", label: "Tags to cut, A7" },
  { kind: "listing", label: "Listing sheet" },
] as const;

export function Card({ board: b, r, set, change }: PanelProps) {
  const { time, shop } = useWorkshop();
  const card: GiftCard = b.give.card ?? {};
  const setCard = (some: Partial<GiftCard>, kind = "") =>
    change((now) => ({ ...now, give: { ...now.give, card: { ...now.give.card, ...some } } }), kind);
  const languages = shop.languages ?? [];
  const asked = r.gift.lines.filter((l) => l.out && l.must);
  return (
    <>
      <p className="facts">
        What stands here is worked out from the wood, the finish and how it is made.{" "}
        {r.gift.ready && <>It is ready for food from {time(r.gift.ready, false)}.</>}
      </p>
      <Row>
        <TextField
          label="Made by"
          value={card.by ?? ""}
          placeholder={shop.name}
          onChange={(by) => setCard({ by }, "by")}
        />
        <Choice
          label="Language"
          value={card.language ?? ""}
          options={[{ value: "", label: "English" }, ...languages.map((l) => ({ value: l.name, label: l.name }))]}
          onChange={(language) => setCard({ language })}
        />
      </Row>
      <TextField
        label="The story of its wood, where it differs from the rack's"
        rows={2}
        value={card.story ?? ""}
        onChange={(story) => setCard({ story }, "story")}
      />
      {languages.length === 0 && (
        <p className="facts">
          Other languages are written once at the <Link to="/shop?part=house">Shop</Link>.
        </p>
      )}
      <h3>Its lines</h3>
      <ul className="plain-list card-lines">
        {r.gift.lines.map((l) => (
          <Line key={l.key} line={l} card={card} setCard={setCard} />
        ))}
      </ul>
      {asked.length > 0 && (
        <p className="late">Left out, though somebody may come to harm without: {asked.length} of the lines.</p>
      )}
      <h3>Print it</h3>
      <div className="chips">
        {prints.map((p) => (
          <a
            key={p.kind}
            className="btn btn-sm btn-outline-primary"
            href={`/api/boards/${b.id}/card.pdf?kind=${p.kind}`}
            download
          >
            {p.label}
          </a>
        ))}
        <a className="btn btn-sm btn-outline-primary" href={`/api/boards/${b.id}/card.png?kind=flat`} download>
          Picture, PNG
        </a>
      </div>
      <CarePage id={b.id} open={card.public ?? false} setOpen={(v) => setCard({ public: v })} />
      <Mark board={b} r={r} set={set} change={change} />
    </>
  );
}

function Line({
  line: l,
  card,
  setCard,
}: {
  line: CardLine;
  card: GiftCard;
  setCard: (some: Partial<GiftCard>, kind?: string) => void;
}) {
  const { words } = useWorkshop();
  const [open, setOpen] = useState(false);
  const out = card.out ?? [];
  return (
    <li className={l.out ? "left-out" : ""}>
      <span>{words(l.text)}</span>
      {l.lacks && <span className="facts"> Not written in that language yet.</span>}
      {l.claim && <span className="late"> This board does not hold to that: {l.claim}.</span>}
      <span className="line-acts">
        <button type="button" className="text-link" aria-expanded={open} onClick={() => setOpen(!open)}>
          {l.own ? "Your words" : "Write it anew"}
          <span className="visually-hidden">: {l.text}</span>
        </button>
        <button
          type="button"
          className="text-link"
          onClick={() => setCard({ out: l.out ? out.filter((k) => k !== l.key) : [...out, l.key] })}
        >
          {l.out ? "Put it back" : "Leave it out"}
          <span className="visually-hidden">: {l.text}</span>
        </button>
      </span>
      {open && (
        <TextField
          label="In your words; what stands in braces is filled in, and emptied it is as before"
          rows={2}
          value={card.lines?.[l.key] ?? l.form}
          onChange={(v) => setCard({ lines: { ...card.lines, [l.key]: v === l.form ? "" : v } }, `line ${l.key}`)}
        />
      )}
    </li>
  );
}

/** CarePage is the public page of the board: made with its card, renewed or taken away here. */
function CarePage({ id, open, setOpen }: { id: string; open: boolean; setOpen: (v: boolean) => void }) {
  const client = useQueryClient();
  const care = useQuery({
    queryKey: ["care", id],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/care", { params: { path: { id } } })),
    refetchOnWindowFocus: true,
  });
  const give = useMutation({
    mutationFn: (on: boolean) => unwrap(api.POST("/api/boards/{id}/care", { params: { path: { id } }, body: { on } })),
    onSuccess: (now) => client.setQueryData(["care", id], now),
  });
  const path = care.data?.path;
  return (
    <section aria-labelledby="care-page">
      <h3 id="care-page">Its care page</h3>
      {path ? (
        <>
          <p>
            The code on its card leads to <a href={path}>{window.location.origin + path}</a>. Whoever has the card can
            read it; nothing else of the workshop is shown.
          </p>
          <Tick label="Names may stand on it" value={open} onChange={setOpen} />
          <Button size="sm" variant="outline-primary" disabled={give.isPending} onClick={() => give.mutate(true)}>
            Give it another address
          </Button>{" "}
          <Button size="sm" variant="outline-secondary" disabled={give.isPending} onClick={() => give.mutate(false)}>
            Take it away
          </Button>
          <p className="facts">Cards that were printed lead nowhere then.</p>
        </>
      ) : (
        <>
          <p>It has none yet. One is made with the card that you print, or now.</p>
          <Button size="sm" variant="outline-primary" disabled={give.isPending} onClick={() => give.mutate(true)}>
            Make its care page
          </Button>
        </>
      )}
      <Wrong error={give.error} />
    </section>
  );
}

/** Mark is the maker's mark on the under face. */
function Mark({ board: b, r, set, change }: Pick<PanelProps, "board" | "r" | "set" | "change">) {
  const mark = b.give.mark;
  return (
    <section aria-labelledby="makers-mark">
      <h3 id="makers-mark">Maker&apos;s mark</h3>
      <Tick
        label="It gets a mark, burned or struck"
        value={mark !== undefined}
        onChange={(on) =>
          change((now) => {
            const give = { ...now.give };
            if (on) give.mark = { x: 0, y: 0, length: 40, width: 20 };
            else delete give.mark;
            return { ...now, give };
          })
        }
      />
      {mark && (
        <>
          <svg
            className="mark-place"
            viewBox={`${r.box[0] - 3} ${-r.box[3] - 3} ${r.box[2] - r.box[0] + 6} ${r.box[3] - r.box[1] + 6}`}
            role="img"
            aria-label="Where the mark stands, seen through the board"
          >
            <g transform="scale(1 -1)">
              <path className="of-board" d={[r.path, ...r.holes].join(" ")} fillRule="evenodd" />
              <path className="of-mark" d={r.gift.mark} />
            </g>
          </svg>
          <Row>
            <LengthField
              label="Along"
              of="board.give.mark.length"
              mm={mark.length}
              onChange={(length) => set({ give: { mark: { length } } }, "mark")}
            />
            <LengthField
              label="Across"
              of="board.give.mark.width"
              mm={mark.width}
              onChange={(width) => set({ give: { mark: { width } } }, "mark")}
            />
            <LengthField
              label="From the middle, along"
              of="board.give.mark.x"
              signed
              mm={mark.x}
              onChange={(x) => set({ give: { mark: { x } } }, "mark")}
            />
            <LengthField
              label="From the middle, across"
              of="board.give.mark.y"
              signed
              mm={mark.y}
              onChange={(y) => set({ give: { mark: { y } } }, "mark")}
            />
          </Row>
          <Tick
            label="On the face that food lies on"
            value={mark.food ?? false}
            onChange={(food) => set({ give: { mark: { food } } })}
          />
        </>
      )}
    </section>
  );
}
