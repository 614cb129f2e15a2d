// A round at the sink: what was done to all samples, and how each came out. Made for a wet thumb.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { say, type Trial, type TrialRound } from "../../api/client";
import { FilePick, send } from "../../kit/files";
import { NumberField, TextField } from "../../kit/fields";
import { keep, keptOf } from "../../kit/kept";
import { useWorkshop } from "../../kit/workshop";
import { SampleShape } from "./SampleShape";

type Score = TrialRound["scores"][number];
type Measure = keyof Score;
type Draft = Omit<TrialRound, "at">;

const tells: Record<string, [string, string]> = {
  feel: ["furry", "silky"],
  beads: ["soaks in", "stands in beads"],
  colour: ["as bare wood", "as on the first day"],
};
const points = Array.from({ length: 11 }, (_, i) => i);

interface Props {
  id: string;
  trial: Trial;
  /** In which the samples are scored. */
  order: number[];
  onWritten: (round: TrialRound) => void;
}

export function Round({ id, trial: t, order, onWritten }: Props) {
  const { tables } = useWorkshop();
  const shelf = `trial ${id} round ${t.rounds.length + 1}`;
  const [round, setRound] = useState<Draft>(() => {
    const kept = keptOf(shelf);
    const last = t.rounds.at(-1);
    return kept
      ? (JSON.parse(kept) as Draft)
      : {
          did: last?.did ?? ["sponge"],
          times: last?.times ?? 1,
          by: last?.by ?? "",
          scores: t.samples.map(() => ({})),
        };
  });
  const change = (part: Partial<Draft>) => {
    const next = { ...round, ...part };
    keep(shelf, JSON.stringify(next)); // a page may be closed with wet hands
    setRound(next);
  };
  const score = (i: number, measure: Measure, v: number | undefined) =>
    change({
      scores: t.samples.map((_, k) => (k === i ? { ...round.scores[k], [measure]: v } : (round.scores[k] ?? {}))),
    });
  const picture = useMutation({
    mutationFn: (file: File) => send<{ id: string }>("/api/pictures", file),
    onSuccess: (p) => change({ pictures: [...(round.pictures ?? []), p.id] }),
  });
  const scored = round.scores.some((s) => tables.measures.some((m) => s[m as Measure] !== undefined));
  if (t.samples.length === 0) return <p className="facts">There is no sample to score yet.</p>;
  return (
    <form
      className="trial-round"
      onSubmit={(e) => {
        e.preventDefault();
        keep(shelf, null);
        onWritten({ ...round, at: new Date().toISOString() });
      }}
    >
      <h2>Round {t.rounds.length + 1}</h2>
      <div className="d-flex gap-1 flex-wrap" role="group" aria-label="What was done">
        {tables.treatments.map((d) => {
          const on = (round.did ?? []).includes(d);
          return (
            <Button
              key={d}
              variant={on ? "primary" : "outline-primary"}
              aria-pressed={on}
              onClick={() => change({ did: on ? round.did.filter((o) => o !== d) : [...(round.did ?? []), d] })}
            >
              {d}
            </Button>
          );
        })}
      </div>
      <div className="field-row">
        <NumberField
          label="How often"
          whole
          of="trial.rounds.times"
          value={round.times}
          onChange={(times) => change({ times })}
        />
        <TextField label="Scored by" value={round.by ?? ""} onChange={(by) => change({ by })} />
      </div>
      {(order.length === t.samples.length ? order : t.samples.map((_, i) => i)).map((i) => {
        const s = t.samples[i];
        return (
          <fieldset key={s.mark} className="sample-score">
            <legend>
              <SampleShape mark={s.mark} /> {s.mark}
              {!t.blind && <span className="facts">{s.control ? "bare" : s.treatment}</span>}
            </legend>
            {tables.measures.map((m) => (
              <div key={m} className="score-row" role="group" aria-label={`${s.mark}: ${m}`}>
                <span className="score-name">{m}</span>
                <div className="score-points">
                  {points.map((p) => {
                    const on = round.scores[i]?.[m as Measure] === p;
                    return (
                      <button
                        key={p}
                        type="button"
                        className={`score-point ${on ? "is-on" : ""}`}
                        aria-pressed={on}
                        aria-label={`${m} ${p}`}
                        onClick={() => score(i, m as Measure, on ? undefined : p)}
                      >
                        {p}
                      </button>
                    );
                  })}
                </div>
                <span className="score-ends facts" aria-hidden>
                  <span>{tells[m]?.[0]}</span>
                  <span>{tells[m]?.[1]}</span>
                </span>
              </div>
            ))}
          </fieldset>
        );
      })}
      <TextField label="Note" rows={2} value={round.note ?? ""} onChange={(note) => change({ note })} />
      <div className="d-flex gap-2 flex-wrap align-items-center">
        <FilePick label="Add a picture" accept="image/*" busy={picture.isPending} onFile={(f) => picture.mutate(f)} />
        {(round.pictures ?? []).map((p) => (
          <img key={p} className="round-picture" src={`/api/pictures/${p}`} alt="The samples in this round" />
        ))}
        {picture.error && <p className="wrong">{say(picture.error)}</p>}
      </div>
      <Button type="submit" size="lg" disabled={!scored || (round.did ?? []).length === 0}>
        Write the round down
      </Button>
    </form>
  );
}
