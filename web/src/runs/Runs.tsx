// Runs: boards made together, and the plan of all work on the calendar.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, unwrap, type RunListed } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { TextField } from "../kit/fields";
import { Silhouette, silhouetteOf } from "../kit/drawing";
import { Parts, Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { GivenAway } from "../giving/GivenAway";
import { Occasions } from "../giving/Occasions";
import { People } from "../giving/People";
import { Plan } from "./Plan";

const parts = { runs: "Runs", plan: "The plan", people: "People", occasions: "Occasions", given: "Given away" };
type Part = keyof typeof parts;

const shown: Record<Part, () => ReactNode> = {
  runs: () => <List />,
  plan: () => <Plan />,
  people: () => <People />,
  occasions: () => <Occasions />,
  given: () => <GivenAway />,
};

export default function RunsPlace() {
  const [query, setQuery] = useSearchParams();
  const asked = query.get("part") ?? "";
  const part: Part = asked in parts ? (asked as Part) : "runs";
  return (
    <div className="sheet-page runs">
      <header className="page-head">
        <h1>Runs</h1>
      </header>
      <Parts parts={parts} open={part} onOpen={(to) => setQuery(to === "runs" ? {} : { part: to })} />
      <div id="part" role="tabpanel" aria-labelledby={`part-${part}`}>
        {shown[part]()}
      </div>
    </div>
  );
}

function List() {
  const runs = useQuery({ queryKey: ["runs"], queryFn: () => unwrap(api.GET("/api/runs")) });
  const arrived = useArrived(runs);
  if (!arrived) return <Away of={runs} />;
  return (
    <>
      {arrived.length === 0 && (
        <p className="facts">
          Boards that are made together share their set-ups, their days and their shopping. Choose them, and give the
          run a name.
        </p>
      )}
      <ul className="plain-list run-list">
        {arrived.map((r) => (
          <Listed key={r.id} run={r} />
        ))}
      </ul>
      <NewRun />
    </>
  );
}

function Listed({ run: r }: { run: RunListed }) {
  const { time } = useWorkshop();
  return (
    <li className="run-line">
      <Link to={`/runs/${r.id}`}>{r.name}</Link>
      <span>
        {r.boards} of {Math.max(r.wanted, r.boards)} boards{r.given > 0 && `, ${r.given} given away`}
      </span>
      {r.steps > 0 && <progress value={r.done / r.steps} aria-label={`${r.done} of ${r.steps} steps done`} />}
      {r.day && <span>for {time(`${r.day}T12:00:00Z`, false)}</span>}
      {r.late > 0 && <span className="late">{r.late === 1 ? "1 too late" : `${r.late} too late`}</span>}
    </li>
  );
}

/** NewRun makes a run of boards that are chosen. */
function NewRun() {
  const client = useQueryClient();
  const navigate = useNavigate();
  const { time } = useWorkshop();
  const [name, setName] = useState("");
  const [chosen, setChosen] = useState<string[]>([]);
  const boards = useQuery({
    queryKey: ["boards", "", false, 0],
    queryFn: () => unwrap(api.GET("/api/boards", { params: { query: { q: "", bin: false, page: 0 } } })),
  });
  const make = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/runs", {
          body: { run: { name: name.trim(), count: chosen.length, spares: 0 }, boards: chosen },
        }),
      ),
    onSuccess: (made) => {
      void client.invalidateQueries();
      void navigate(`/runs/${made.id}`);
    },
  });
  const free = (boards.data?.items ?? []).filter((b) => !b.run && !b.given);
  const toggle = (id: string) => setChosen((now) => (now.includes(id) ? now.filter((o) => o !== id) : [...now, id]));
  return (
    <form
      className="new-run"
      onSubmit={(e) => {
        e.preventDefault();
        make.mutate();
      }}
    >
      <h2>New run</h2>
      <TextField label="Name" value={name} onChange={setName} placeholder="Midsummer supper" />
      {free.length > 0 && (
        <fieldset>
          <legend>Boards in it</legend>
          <ul className="choose-boards">
            {free.map((b) => (
              <li key={b.id}>
                <label className={chosen.includes(b.id) ? "is-chosen" : ""}>
                  <input type="checkbox" checked={chosen.includes(b.id)} onChange={() => toggle(b.id)} />
                  <Silhouette {...silhouetteOf(b)} label="" seed={b.name} />
                  <span>
                    {b.name}
                    <small>
                      {b.slab}
                      {b.due && `, for ${time(`${b.due}T12:00:00Z`, false)}`}
                    </small>
                  </span>
                </label>
              </li>
            ))}
          </ul>
        </fieldset>
      )}
      <Button type="submit" disabled={name.trim() === "" || make.isPending}>
        Make the run
      </Button>
      <Wrong error={make.error} />
    </form>
  );
}
