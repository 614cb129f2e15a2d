// Occasions: days on which several people get a board, and who has none yet.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { api, unwrap, type Occasion, type OccasionDoc } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { DayField, RemoveButton, Row, TextField, Tick, FormFoot } from "../kit/fields";
import { Pages, useSought } from "../kit/list";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";

export function Occasions() {
  const [page, setPage] = useState(0);
  const [open, setOpen] = useState<string>();
  const occasions = useQuery({
    queryKey: ["occasions", page],
    queryFn: () => unwrap(api.GET("/api/occasions", { params: { query: { q: "", page, bin: false } } })),
  });
  const arrived = useArrived(occasions);
  if (!arrived) return <Away of={occasions} />;
  return (
    <>
      <div className="list-bar">
        <Button size="sm" onClick={() => setOpen("new")} disabled={open === "new"}>
          A new occasion
        </Button>
      </div>
      {open === "new" && <OccasionForm onClose={() => setOpen(undefined)} />}
      {arrived.total === 0 && (
        <p className="facts">
          A supper, a jubilee, a thank-you: with a list of who gets a board, and who has none yet.
        </p>
      )}
      <ul className="plain-list occasions">
        {arrived.items.map((o) => (
          <li key={o.id}>
            <Line of={o} open={open === o.id} onOpen={() => setOpen(open === o.id ? undefined : o.id)} />
            {open === o.id && <OccasionForm of={o} onClose={() => setOpen(undefined)} />}
          </li>
        ))}
      </ul>
      <Pages total={arrived.total} page={page} onPage={setPage} />
    </>
  );
}

function Line({ of: o, open, onOpen }: { of: OccasionDoc; open: boolean; onOpen: () => void }) {
  const { time } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const none = o.guests.filter((g) => g.boards.length === 0);
  const make = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/runs", {
          body: {
            run: {
              name: o.occasion.name,
              occasion: o.occasion.name,
              day: o.next,
              count: none.length,
              spares: 0,
              people: none.map((g) => ({ name: g.name })),
            },
            boards: [],
          },
        }),
      ),
    onSuccess: (made) => {
      void client.invalidateQueries();
      void navigate(`/runs/${made.id}`);
    },
  });
  return (
    <section className="occasion" aria-label={o.occasion.name}>
      <div className="person">
        <button type="button" className="text-link" aria-expanded={open} onClick={onOpen}>
          {o.occasion.name}
        </button>
        <span>
          {o.next && time(`${o.next}T12:00:00Z`, false)}
          {o.days >= 0 ? `, in ${o.days} days` : ", over"}
        </span>
        <span className={none.length > 0 && o.days >= 0 ? "late" : "facts"}>
          {o.guests.length === 0
            ? "nobody is on its list"
            : none.length === 0
              ? "everybody has a board"
              : `${none.length} of ${o.guests.length} have none yet`}
        </span>
      </div>
      {none.length > 0 && o.days >= 0 && (
        <>
          <p>
            Without a board: <strong>{none.map((g) => g.name).join(", ")}</strong>
          </p>
          <Button size="sm" variant="outline-primary" disabled={make.isPending} onClick={() => make.mutate()}>
            Make a run for {none.length === 1 ? none[0]!.name : `these ${none.length}`}
          </Button>
        </>
      )}
      {o.guests.some((g) => g.boards.length > 0) && (
        <details>
          <summary>Who has one</summary>
          <ul className="plain-list">
            {o.guests
              .filter((g) => g.boards.length > 0)
              .map((g) => (
                <li key={g.id}>
                  {g.name}:{" "}
                  {g.boards.map((b, i) => (
                    <span key={b.id}>
                      {i > 0 && ", "}
                      <Link to={`/boards/${b.id}?stage=give`}>{b.name}</Link>
                    </span>
                  ))}
                </li>
              ))}
          </ul>
        </details>
      )}
      <Wrong error={make.error} />
    </section>
  );
}

function OccasionForm({ of, onClose }: { of?: OccasionDoc; onClose: () => void }) {
  const client = useQueryClient();
  const [o, setOccasion] = useState<Occasion>(() => of?.occasion ?? { name: "", day: "", people: [] });
  const [names, setNames] = useState(() => new Map((of?.guests ?? []).map((g) => [g.id, g.name])));
  const [sought, setSought, words] = useSought();
  const set = (some: Partial<Occasion>) => setOccasion((now) => ({ ...now, ...some }));
  const found = useQuery({
    queryKey: ["people", words, false, 0],
    queryFn: () => unwrap(api.GET("/api/people", { params: { query: { q: words, page: 0, bin: false } } })),
  });
  const done = async () => {
    await client.invalidateQueries({ queryKey: ["occasions"] });
    onClose();
  };
  const save = useMutation({
    mutationFn: useTyped(() =>
      of
        ? unwrap(
            api.PUT("/api/occasions/{id}", {
              params: { path: { id: of.id } },
              body: { version: of.version, occasion: o },
            }),
          )
        : unwrap(api.POST("/api/occasions", { body: o })),
    ),
    onSuccess: done,
  });
  const away = useMutation({
    mutationFn: (id: string) => unwrap(api.DELETE("/api/occasions/{id}", { params: { path: { id } } })),
    onSuccess: done,
  });
  const others = (found.data?.items ?? []).filter((p) => !o.people.includes(p.id));
  return (
    <form
      className="product-form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <Row>
        <TextField label="Called" value={o.name} onChange={(name) => set({ name })} />
        <DayField label="Day" value={o.day} onChange={(day) => set({ day })} />
      </Row>
      <Tick label="It comes back every year" value={o.yearly ?? false} onChange={(yearly) => set({ yearly })} />
      <div>
        <strong>Who gets one</strong>
        <ul className="chips">
          {o.people.map((id) => (
            <li key={id}>
              {names.get(id) ?? "put away"}{" "}
              <RemoveButton
                what={names.get(id) ?? "them"}
                onClick={() => set({ people: o.people.filter((p) => p !== id) })}
              />
            </li>
          ))}
        </ul>
      </div>
      <TextField label="Add somebody by name" value={sought} onChange={setSought} />
      <div className="chips">
        {others.slice(0, 8).map((p) => (
          <Button
            key={p.id}
            size="sm"
            variant="outline-primary"
            onClick={() => {
              setNames((now) => new Map(now).set(p.id, p.person.name));
              set({ people: [...o.people, p.id] });
            }}
          >
            {p.person.name}
          </Button>
        ))}
      </div>
      <TextField label="Note" rows={2} value={o.note ?? ""} onChange={(note) => set({ note })} />
      <FormFoot
        saving={save.isPending}
        ready={o.name.trim() !== "" && o.day !== ""}
        onClose={onClose}
        what={of && o.name}
        onRemove={() => of && away.mutate(of.id)}
      />
      <Wrong error={save.error ?? away.error} />
    </form>
  );
}
