// What a trial tells: curves, differences, how long each lasted, and in words.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Trial, TrialDoc } from "../../api/client";
import { Working } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { SampleShape } from "./SampleShape";

type Result = TrialDoc["result"];

/** nameOf is what a sample is called. */
const nameOf = (t: Trial, i: number): string => {
  const s = t.samples[i];
  return s ? (s.control ? "bare" : s.treatment || s.mark) : "";
};

export function Answer({ trial: t, result: r }: { trial: Trial; result: Result }) {
  const { tables } = useWorkshop();
  const measures = tables.measures.filter((m) => r.lines.some((l) => l.measure === m));
  const [picked, pick] = useState("");
  const measure = measures.includes(picked) ? picked : measures.includes("beads") ? "beads" : measures[0];
  if (!measure) return <p className="facts">Score a round first: then it is drawn here.</p>;
  const pairs = r.pairs.filter((p) => p.measure === measure);
  return (
    <div className="trial-answer">
      <ul className="plain-list trial-words">
        {r.words.map((w) => (
          <li key={w}>{w}.</li>
        ))}
      </ul>
      {measures.length > 1 && (
        <div className="d-flex gap-1" role="group" aria-label="What was scored">
          {measures.map((m) => (
            <Button
              key={m}
              size="sm"
              variant={m === measure ? "primary" : "outline-primary"}
              aria-pressed={m === measure}
              onClick={() => pick(m)}
            >
              {m}
            </Button>
          ))}
        </div>
      )}
      <Curves trial={t} lines={r.lines.filter((l) => l.measure === measure)} measure={measure} />
      {r.lives.length > 0 && (
        <ul className="plain-list facts">
          {r.lives.map((l) => (
            <li key={l.sample}>
              {nameOf(t, l.sample)}: {l.over ? "as bare as the bare one after" : "better than bare so far, after"}{" "}
              {Math.round(l.washes)} {Math.round(l.washes) === 1 ? "wash" : "washes"}
            </li>
          ))}
        </ul>
      )}
      {pairs.length > 0 && (
        <ul className="plain-list pairs">
          {pairs.map((p) => (
            <li key={`${p.a}-${p.b}`}>
              <Working
                figure={p.working}
                line={
                  <>
                    <span className="figure-label">
                      {nameOf(t, p.a)} against {nameOf(t, p.b)}
                    </span>
                    <strong>{p.told ? "told apart" : "not told apart yet"}</strong>
                  </>
                }
              />
              <span className="facts">
                {p.mean.toFixed(2)} on the mean, {p.low.toFixed(2)} to {p.high.toFixed(2)}; p {showP(p.p)} over{" "}
                {p.rounds} rounds{p.more > 0 && `; ${p.more} more of the same would tell`}
              </span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

const showP = (p: number): string => (p < 0.001 ? "under 0.001" : p.toFixed(3));

/** Curves are the scores over the washes, a line for each sample. */
function Curves({ trial: t, lines, measure }: { trial: Trial; lines: Result["lines"]; measure: string }) {
  const [width, height, left, foot] = [440, 190, 26, 24];
  const rounds = Math.max(2, t.rounds.length);
  const x = (round: number) => left + ((round - 1) / (rounds - 1)) * (width - left - 12);
  const y = (score: number) => 8 + (1 - score / 10) * (height - foot - 8);
  return (
    <figure className="trial-curves">
      <svg
        viewBox={`0 0 ${width} ${height}`}
        role="img"
        aria-label={`${measure} over ${t.rounds.length} rounds: ${lines
          .map((l) => `${nameOf(t, l.sample)} from ${l.points[0].score} to ${l.points.at(-1)!.score}`)
          .join("; ")}`}
      >
        {[0, 5, 10].map((v) => (
          <g key={v} className="curve-grid">
            <path d={`M${left} ${y(v)}H${width - 12}`} />
            <text x={left - 6} y={y(v) + 4} textAnchor="end">
              {v}
            </text>
          </g>
        ))}
        {lines.map((l) => (
          <g key={l.sample} className={`curve curve-${l.sample} ${t.samples[l.sample]?.control ? "is-control" : ""}`}>
            <path d={`M${l.points.map((p) => `${x(p.round)} ${y(p.score)}`).join("L")}`} />
            {l.points.map((p) => (
              <circle key={p.round} cx={x(p.round)} cy={y(p.score)} r={3.5}>
                <title>
                  {nameOf(t, l.sample)}, round {p.round}, after {p.washes} washes: {p.score}
                </title>
              </circle>
            ))}
          </g>
        ))}
        {[1, rounds].map((n) => (
          <text key={n} className="curve-foot" x={x(n)} y={height - 6} textAnchor={n === 1 ? "start" : "end"}>
            round {n}
          </text>
        ))}
      </svg>
      <figcaption>
        {lines.map((l) => (
          <span key={l.sample} className={`curve-key curve-${l.sample}`}>
            <SampleShape mark={t.samples[l.sample]?.mark ?? "plain"} /> {nameOf(t, l.sample)}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
