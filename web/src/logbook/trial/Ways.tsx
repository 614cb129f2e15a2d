// Two ways of making, by all the minutes of their boards, and by which was liked.
import { useQuery } from "@tanstack/react-query";
import { api, unwrap, type Trial, type TrialDoc } from "../../api/client";
import type { Edit } from "../../kit/document/useDocument";
import { NumberField, TextField, Tick } from "../../kit/fields";
import { put } from "../../kit/items";
import { showMinutes } from "../../kit/length";

type Way = NonNullable<Trial["ways"]>[number];

const none: Way[] = [
  { name: "one way", boards: [] },
  { name: "the other", boards: [] },
];

export function Ways({ trial: t, set, told }: { trial: Trial; set: Edit<Trial>; told: TrialDoc }) {
  const boards = useQuery({
    queryKey: ["boards", "", false, 0],
    queryFn: () => unwrap(api.GET("/api/boards", { params: { query: { q: "", bin: false, page: 0 } } })),
  });
  const ways = (t.ways ?? []).length === 2 ? t.ways! : none;
  const change = (i: number, part: Partial<Way>, kind = "") =>
    set((now) => ({ ways: put((now.ways ?? []).length === 2 ? now.ways! : none, i, part) }), kind && `${kind}-${i}`);
  return (
    <>
      <p className="facts">
        Router or gouge, a template or by eye: all steps of the boards that were made so are counted, not the cutting
        alone.
      </p>
      {told.told.map((w) => (
        <p key={w}>{w}.</p>
      ))}
      <div className="ways">
        {ways.map((w, i) => (
          <section key={i} aria-label={w.name}>
            <TextField label="Called" value={w.name} onChange={(name) => change(i, { name }, "way")} />
            <NumberField
              label="Liked better by"
              whole
              of="trial.ways.liked"
              value={w.liked ?? 0}
              onChange={(liked) => change(i, { liked }, "liked")}
            />
            <fieldset>
              <legend>Made so</legend>
              {(boards.data?.items ?? []).map((b) => (
                <Tick
                  key={b.id}
                  label={b.name}
                  value={(w.boards ?? []).includes(b.id)}
                  onChange={(yes) =>
                    change(i, { boards: yes ? [...(w.boards ?? []), b.id] : w.boards.filter((o) => o !== b.id) })
                  }
                />
              ))}
            </fieldset>
            {told.ways[i] && told.ways[i].boards > 0 && (
              <table className="rungs">
                <caption>
                  {showMinutes(told.ways[i].minutes)} a board, over {told.ways[i].boards}
                </caption>
                <tbody>
                  {told.ways[i].kinds.map((k) => (
                    <tr key={k.kind}>
                      <th scope="row">{k.kind}</th>
                      <td>{showMinutes(k.minutes)}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </section>
        ))}
      </div>
    </>
  );
}
