// The rounds so far, the newest first.
import type { Trial } from "../../api/client";
import type { Edit } from "../../kit/document/useDocument";
import { RemoveButton } from "../../kit/fields";
import { cut } from "../../kit/items";
import { useWorkshop } from "../../kit/workshop";

export function Rounds({ trial: t, set }: { trial: Trial; set: Edit<Trial> }) {
  const { time, tables } = useWorkshop();
  if (t.rounds.length === 0) return <p className="facts">No round is written down yet.</p>;
  const newest = t.rounds.map((r, i) => ({ r, i })).reverse();
  return (
    <div className="options-table">
      <table className="log">
        <thead>
          <tr>
            <th scope="col">Round</th>
            <th scope="col">What was done</th>
            {t.samples.map((s) => (
              <th key={s.mark} scope="col">
                {s.mark}
              </th>
            ))}
            <th scope="col">
              <span className="visually-hidden">Remove</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {newest.map(({ r, i }) => (
            <tr key={r.at}>
              <td>
                {i + 1}, {time(r.at)}
                {r.by && `, ${r.by}`}
              </td>
              <td>
                {(r.did ?? []).join(", ")}
                {r.times > 1 && ` × ${r.times}`}
                {r.note && <div className="facts">{r.note}</div>}
                {(r.pictures ?? []).map((p) => (
                  <a key={p} href={`/api/pictures/${p}`}>
                    <img className="round-picture" src={`/api/pictures/${p}`} alt={`Round ${i + 1}`} />
                  </a>
                ))}
              </td>
              {t.samples.map((s, k) => (
                <td key={s.mark}>
                  <span className="round-mark">{s.mark}: </span>
                  {tables.measures
                    .map((m) => r.scores[k]?.[m as keyof (typeof r.scores)[number]])
                    .map((v) => v ?? "–")
                    .join(" / ")}
                </td>
              ))}
              <td>
                <RemoveButton what={`round ${i + 1}`} onClick={() => set((now) => ({ rounds: cut(now.rounds, i) }))} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="facts">Scores: {tables.measures.join(" / ")}.</p>
    </div>
  );
}
