// One trial: its samples, the rounds so far, and what they tell.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useMemo } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams, useSearchParams } from "react-router";
import { named } from "../../api/asking";
import { api, storing, unwrap, type TrialDoc } from "../../api/client";
import { Away } from "../../kit/away";
import { useArrived } from "../../kit/arrived";
import { editor, useDocument, useUndoKeys } from "../../kit/document/useDocument";
import { TextField, Tick } from "../../kit/fields";
import { Parts } from "../../kit/parts";
import { SaveMark, SaveNotice, UndoButtons } from "../../kit/saved";
import { useTitle } from "../../kit/title";
import { Answer } from "./Answer";
import { Round } from "./Round";
import { Rounds } from "./Rounds";
import { Samples } from "./Samples";
import { Ways } from "./Ways";

const parts = {
  score: "Score a round",
  answer: "What it tells",
  samples: "Samples",
  rounds: "Rounds",
  ways: "Two ways",
};
type Part = keyof typeof parts;

export default function TrialPlace() {
  const { id = "" } = useParams();
  const trial = useQuery({
    queryKey: ["trial", id],
    queryFn: () => unwrap(api.GET("/api/trials/{id}", { params: { path: { id } } })),
    gcTime: 0,
  });
  const arrived = useArrived(trial);
  if (!arrived) return <Away of={trial} />;
  return <Editor key={arrived.id} of={arrived} />;
}

function Editor({ of }: { of: TrialDoc }) {
  const client = useQueryClient();
  const navigate = useNavigate();
  const [query, setQuery] = useSearchParams();
  const path = { id: of.id };
  const d = useDocument({
    name: `trial ${of.id}`,
    doc: of.trial,
    version: of.version,
    result: of,
    newest: useMemo(() => ({ doc: of.trial, version: of.version }), [of]),
    draft: (trial) => unwrap(api.POST("/api/trials/{id}/draft", { params: { path }, body: trial })),
    save: async (trial, version, name) => {
      const saved = await storing(
        api.PUT("/api/trials/{id}", { ...named(name), params: { path }, body: { version, trial } }),
      );
      if ("stored" in saved) return saved;
      void client.invalidateQueries({ queryKey: ["trials"] });
      void client.invalidateQueries({ queryKey: ["finishes"] });
      return { version: saved.data.version };
    },
  });
  useUndoKeys(d);
  useTitle(d.doc.name, 1);
  const bin = useMutation({
    mutationFn: () => unwrap(api.DELETE("/api/trials/{id}", { params: { path } })),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["trials"] });
      void navigate("/logbook?part=trials");
    },
  });
  const set = editor(d);
  const asked = query.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : d.doc.rounds.length > 0 ? "answer" : "samples";
  const open = (to: Part) => setQuery({ part: to });
  return (
    <div className="sheet-page trial">
      <header className="page-head">
        <Link to="/logbook?part=trials" className="back">
          Logbook
        </Link>
        <h1>
          <input
            className="title-field"
            aria-label="Name of the trial"
            value={d.doc.name}
            onChange={(e) => set({ name: e.target.value }, "name")}
          />
        </h1>
        <SaveMark doc={d} />
        <UndoButtons doc={d} />
        <a className="btn btn-sm btn-outline-primary ms-auto" href={`/api/trials/${of.id}/scores.csv`} download>
          Scores, CSV
        </a>
      </header>
      <SaveNotice doc={d} />
      <TextField
        label="What is to be settled"
        value={d.doc.question}
        onChange={(question) => set({ question }, "question")}
      />
      <Parts parts={parts} open={part} onOpen={open} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {part === "score" && (
          <Round
            key={d.doc.rounds.length}
            id={of.id}
            trial={d.doc}
            order={d.result.result.order}
            onWritten={(round) => {
              set((now) => ({ rounds: [...now.rounds, round] }));
              open("answer");
            }}
          />
        )}
        {part === "answer" && <Answer trial={d.doc} result={d.result.result} />}
        {part === "samples" && <Samples trial={d.doc} set={set} plank={d.result.plank} />}
        {part === "rounds" && <Rounds trial={d.doc} set={set} />}
        {part === "ways" && <Ways trial={d.doc} set={set} told={d.result} />}
      </div>
      <div className="trial-foot">
        <Tick label="It is settled, or given up" value={d.doc.over ?? false} onChange={(over) => set({ over })} />
        <Button size="sm" variant="outline-secondary" onClick={() => bin.mutate()}>
          Put it away
        </Button>
      </div>
    </div>
  );
}
