// The trials of the shop: what is asked, and what they say so far.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Trial } from "../../api/client";
import { Away } from "../../kit/away";
import { TextField } from "../../kit/fields";
import { Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";

type Marks = Trial["samples"][number]["mark"][];

/** begun is a trial as it is begun: a bare sample, and one to treat. */
const begun = (name: string, [bare, first]: Marks): Trial => ({
  name,
  question: "",
  samples: [
    { mark: bare, treatment: "", control: true },
    { mark: first, treatment: "" },
  ],
  rounds: [],
});

export function Trials() {
  const { time, tables } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const trials = useQuery({ queryKey: ["trials"], queryFn: () => unwrap(api.GET("/api/trials")) });
  const begin = useMutation({
    mutationFn: () => unwrap(api.POST("/api/trials", { body: begun(name.trim(), tables.marks as Marks) })),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ["trials"] });
      void navigate(`/logbook/trials/${made.id}`);
    },
  });
  if (!trials.data) return <Away of={trials} />;
  return (
    <section className="trials" aria-labelledby="trials">
      <h2 id="trials">Trials</h2>
      {trials.data.length === 0 ? (
        <p className="facts">
          Two pastes, two oils, a sealed edge or none: samples of one plank, washed round by round and scored, tell.
        </p>
      ) : (
        <ul className="plain-list trial-list">
          {trials.data.map((t) => (
            <li key={t.id}>
              <Link to={`/logbook/trials/${t.id}`}>{t.name}</Link>{" "}
              <span className="facts">
                {t.rounds} {t.rounds === 1 ? "round" : "rounds"} since {time(t.at, false)}
                {t.over && ", over"}
              </span>
              {t.says && <div>{t.says}.</div>}
            </li>
          ))}
        </ul>
      )}
      <form
        className="begin-trial"
        onSubmit={(e) => {
          e.preventDefault();
          begin.mutate();
        }}
      >
        <TextField label="New trial" value={name} onChange={setName} placeholder="Two pastes" />
        <Button type="submit" size="sm" disabled={name.trim() === "" || begin.isPending}>
          Begin it
        </Button>
        <Wrong error={begin.error} />
      </form>
    </section>
  );
}
