// What is cut: the list of cuts, where inner cuts begin, how the router meets
// the grain, and the outline as it came out.
import { useMutation } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Board, type Reckoned } from "../../api/client";
import { showMinutes } from "../../kit/length";
import { Working } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import type { SetDesign, Shaping } from "./lines";
import { PickedNode } from "./Nodes";

const meets: Record<string, string> = {
  end: "End grain first",
  with: "then along the grain",
  against: "against the grain: light passes, or sand to the line",
};

export function CutPart({ board, r, set, shaping }: { board: Board; r: Reckoned; set: SetDesign; shaping: Shaping }) {
  const { length, value } = useWorkshop();
  const d = board.design;
  const asCut = d.asCut ?? [];
  const record = useMutation({
    mutationFn: () => unwrap(api.POST("/api/boards/{id}/nodes", { params: { path: { id: board.id } }, body: board })),
    onSuccess: (o) => set({ asCut: o.nodes }),
  });
  const sums = Object.entries(meets).map(([k, words]) => ({
    k,
    words,
    mm: r.shape.stretches.filter((t) => t.grain === k).reduce((sum, t) => sum + t.mm, 0),
  }));
  return (
    <>
      <h2>Cut list</h2>
      <ol className="cuts">
        {r.cuts.map((c, k) => (
          <li key={k}>
            <Working
              figure={c.working}
              line={
                <>
                  {c.title}
                  <span className="facts">
                    {c.tool}, {c.at !== undefined ? `${length(c.at)} from the butt, ` : ""}
                    {c.bored
                      ? c.length > 0
                        ? `∅ ${value(c.length, "bit")}`
                        : "no bit owned fits"
                      : `${length(c.length)} long`}
                  </span>
                </>
              }
            />
          </li>
        ))}
      </ol>
      <p className="facts">
        Outside its line the edge stands{" "}
        {r.shape.proud.map((o) => `${o.step}, ${o.mm > 0 ? length(o.mm) : "not at all"}`).join("; ")}.
      </p>
      <Makers r={r} />
      <h2>At the router</h2>
      <p className="facts">Against the clock round the board, with the clock inside a hole.</p>
      <ul className="plain-list">
        {sums.map((o) => (
          <li key={o.k}>
            <span className={`swatch stretch-${o.k}`} /> {o.words}, {length(o.mm)}
          </li>
        ))}
      </ul>
      <h2>As it was cut</h2>
      {asCut.length === 0 ? (
        <>
          <p className="facts">
            Cut too deep, or a corner lost? Record the outline as it came out; everything reckons on from it.
          </p>
          <Button size="sm" variant="outline-primary" onClick={() => record.mutate()}>
            Record the outline as cut
          </Button>
        </>
      ) : (
        <>
          <p className="facts">Drag the points to where the edge now is. The planned outline is drawn beside it.</p>
          <PickedNode d={d} line="cut" picked={shaping.picked} grips={r.shape.grips} set={set} />
          <Button size="sm" variant="outline-secondary" onClick={() => set({ asCut: [] })}>
            Back to the planned outline
          </Button>
        </>
      )}
    </>
  );
}

/** Makers tells who makes what: the best tool owned, why, and what else would in how many minutes. */
function Makers({ r }: { r: Reckoned }) {
  const { words } = useWorkshop();
  return (
    <>
      <h2>Who makes what</h2>
      <ul className="makers">
        {r.makes.map((m, i) => (
          <li key={i} className={m.by ? undefined : "none"}>
            <span className="maker-name">{m.name}</span>
            {m.by ? (
              <span>
                <strong>{m.by.tool}</strong>, {showMinutes(m.by.minutes)}
                <span className="facts">{words(m.by.why)}</span>
                {m.otherwise && (
                  <span className="facts">
                    or {m.otherwise.tool}, {showMinutes(m.otherwise.minutes)}
                  </span>
                )}
                {m.wish && (
                  <span className="facts">
                    not owned: {m.wish.tool}, saves {showMinutes(m.saves ?? 0)}
                  </span>
                )}
              </span>
            ) : (
              <span>
                <strong>nothing owned</strong>
                <span className="facts">{words(m.ways ?? "")}</span>
              </span>
            )}
          </li>
        ))}
      </ul>
      {r.savings.length > 0 && (
        <p className="facts">
          One more tool on this board: {r.savings.map((o) => `${o.tool} saves ${showMinutes(o.minutes)}`).join(", ")}.
        </p>
      )}
    </>
  );
}
