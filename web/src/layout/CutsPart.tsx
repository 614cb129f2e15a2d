// The cuts in a workable order, and what becomes of the slab.
import { useQuery } from "@tanstack/react-query";
import { api, say, unwrap, type Board, type Held, type LaidOut, type LayoutDoc, type SlabCut } from "../api/client";
import type { Doc } from "../kit/document/useDocument";
import { Figures, LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

const settings: Partial<Record<SlabCut["kind"], string>> = {
  "cross-cut": "from the butt end of the piece",
  rip: "fence from its right edge",
};

export function CutsPart({ cuts }: { cuts: SlabCut[] }) {
  const { length, words } = useWorkshop();
  if (cuts.length === 0) return <p className="facts">Lay a board first.</p>;
  return (
    <>
      <h2>Cuts in order</h2>
      <p className="facts">
        Across first, then along, then holes and curves. Push sticks for narrow strips; never rip a twisted or cupped
        piece without a flat face and a straight edge. Read the machine&apos;s own manual, and follow your local rules.
      </p>
      <ol className="slab-cuts">
        {cuts.map((c) => (
          <li key={c.number} data-kind={c.kind}>
            <div>
              <strong>{words(c.title)}</strong>
              {c.level !== "good" && <LevelMark level={c.level} />}
            </div>
            <div className="facts">
              {c.saw}, {length(Math.round(c.length))}
              {settings[c.kind] && `, set ${length(Math.round((c.setting ?? 0) * 10) / 10)} ${settings[c.kind]}`}
            </div>
            {c.finding && <div className="facts">{words(c.finding)}</div>}
            {settings[c.kind] && <div className="facts">Leaves: {c.pieces.join(" · ")}</div>}
          </li>
        ))}
      </ol>
    </>
  );
}

/** WastePart tells what becomes of the slab, and what its offcuts are. */
export function WastePart({
  layout,
  doc: d,
  held,
  onHold,
}: {
  layout: LayoutDoc;
  doc: Doc<Board[], LaidOut>;
  held: Held | null;
  onHold: (h: Held | null) => void;
}) {
  const { length, value } = useWorkshop();
  const left = useQuery({
    queryKey: ["layout-waste", layout.piece, d.doc],
    queryFn: () =>
      unwrap(
        api.POST("/api/pieces/{id}/layout/draft", {
          params: { path: { id: layout.piece } },
          body: { boards: d.doc, leftovers: true },
        }),
      ),
    placeholderData: (was) => was,
    gcTime: 0,
  });
  if (!left.data) return left.error ? <p className="wrong">{say(left.error)}</p> : null;
  const kept = left.data.offcuts.filter((o) => o.keep);
  return (
    <>
      <h2>What becomes of the slab</h2>
      <Figures figures={left.data.figures} />
      <h2>Back on the rack</h2>
      {kept.length === 0 && <p className="facts">No offcut is wide enough to keep.</p>}
      <ul className="on-it">
        {kept.map((o, i) => (
          <li key={i}>
            {length(Math.round(o.length))} × {length(Math.round(o.width))}
            <span className="facts">{value(o.area / 100, "cm²")}</span>
            {o.holds && (
              <div className="facts holds">
                Still holds, clear of flaws,
                {o.holds.map((h) => (
                  <button
                    key={h.name}
                    type="button"
                    className="text-link"
                    aria-pressed={held === h}
                    onClick={() => onHold(held === h ? null : h)}
                  >
                    {h.own
                      ? h.name
                      : h.name === "round"
                        ? `a round of ${length(Math.floor(h.length))}`
                        : `a ${h.name} of ${length(Math.floor(h.length))} × ${length(Math.floor(h.width))}`}
                  </button>
                ))}
              </div>
            )}
          </li>
        ))}
      </ul>
    </>
  );
}
