// The people that boards are for: who they are, what they like, what is for them, and their days.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type ComingDay, type Person, type PersonDoc } from "../api/client";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Choice, RemoveButton, Row, TextField, Tick, FormFoot } from "../kit/fields";
import { Pages, useSought } from "../kit/list";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";
import { yearDay } from "./days";

/** judges are who judges what somebody gets. */
export const judges = [
  { value: "", label: "gifts" },
  { value: "own", label: "your own use" },
  { value: "customer", label: "a customer's order" },
] as const;

export function People() {
  const [sought, setSought, words] = useSought();
  const [page, setPage] = useState(0);
  const [bin, setBin] = useState(false);
  const [open, setOpen] = useState<string>();
  const people = useQuery({
    queryKey: ["people", words, bin, page],
    queryFn: () => unwrap(api.GET("/api/people", { params: { query: { q: words, page, bin } } })),
  });
  const arrived = useArrived(people);
  if (!arrived) return <Away of={people} />;
  return (
    <>
      <div className="list-bar">
        <TextField label="Look for" value={sought} onChange={setSought} />
        <Tick
          label="Who was put away"
          value={bin}
          onChange={(to) => {
            setBin(to);
            setPage(0);
          }}
        />
        <Button size="sm" onClick={() => setOpen("new")} disabled={open === "new"}>
          Somebody new
        </Button>
      </div>
      {open === "new" && <PersonForm onClose={() => setOpen(undefined)} />}
      {arrived.total === 0 && !bin && (
        <p className="facts">
          {words
            ? "Nobody like that is here."
            : "Whoever gets a board, with what they like and the days that come back: so that nobody is left out."}
        </p>
      )}
      <ul className="plain-list persons">
        {arrived.items.map((p) => (
          <li key={p.id}>
            {p.binned ? (
              <Back of={p} />
            ) : (
              <Line of={p} open={open === p.id} onOpen={() => setOpen(open === p.id ? undefined : p.id)} />
            )}
            {open === p.id && !p.binned && <PersonForm of={p} onClose={() => setOpen(undefined)} />}
          </li>
        ))}
      </ul>
      <Pages total={arrived.total} page={page} onPage={setPage} />
      <Coming />
    </>
  );
}

function Line({ of: p, open, onOpen }: { of: PersonDoc; open: boolean; onOpen: () => void }) {
  const given = p.boards.filter((b) => b.given).length;
  const ahead = p.boards.length - given;
  return (
    <div className="person">
      <button type="button" className="text-link" aria-expanded={open} onClick={onOpen}>
        {p.person.name}
      </button>
      <span className="facts">{p.person.likes}</span>
      <span>
        {p.boards.length === 0 && "no board yet"}
        {ahead > 0 && `${ahead} in work`}
        {ahead > 0 && given > 0 && ", "}
        {given > 0 && `${given} given`}
      </span>
      {p.next && (
        <span className={p.next.board || p.next.days > 60 ? "facts" : "late"}>
          {p.next.name} {p.next.days === 0 ? "today" : `in ${p.next.days} days`}
          {p.next.board && ", a board is for it"}
        </span>
      )}
    </div>
  );
}

function Back({ of: p }: { of: PersonDoc }) {
  const client = useQueryClient();
  const back = useMutation({
    mutationFn: () => unwrap(api.POST("/api/people/{id}/restore", { params: { path: { id: p.id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["people"] }),
  });
  return (
    <>
      <Button size="sm" variant="link" disabled={back.isPending} onClick={() => back.mutate()}>
        Take {p.person.name} back
      </Button>
      <Wrong error={back.error} />
    </>
  );
}

/** Coming lists the days that come back, the next one first. */
function Coming() {
  const { time } = useWorkshop();
  const days = useQuery({ queryKey: ["people", "days"], queryFn: () => unwrap(api.GET("/api/days")) });
  if (!days.data?.length) return null;
  return (
    <section aria-labelledby="coming">
      <h2 id="coming">Days that come back</h2>
      <ul className="plain-list">
        {days.data.map((d: ComingDay) => (
          <li key={`${d.person} ${d.name} ${d.day}`}>
            {time(`${d.day}T12:00:00Z`, false)}: {d.who}, {d.name}
            {d.board ? (
              <span className="facts">, a board is for it</span>
            ) : (
              <span className="late">, no board yet</span>
            )}
          </li>
        ))}
      </ul>
    </section>
  );
}

function PersonForm({ of, onClose }: { of?: PersonDoc; onClose: () => void }) {
  const client = useQueryClient();
  const { time } = useWorkshop();
  const [p, setPerson] = useState<Person>(() => of?.person ?? { name: "" });
  const set = (some: Partial<Person>) => setPerson((now) => ({ ...now, ...some }));
  const done = async () => {
    await client.invalidateQueries({ queryKey: ["people"] });
    await client.invalidateQueries({ queryKey: ["occasions"] });
    onClose();
  };
  const save = useMutation({
    mutationFn: useTyped(() =>
      of
        ? unwrap(
            api.PUT("/api/people/{id}", { params: { path: { id: of.id } }, body: { version: of.version, person: p } }),
          )
        : unwrap(api.POST("/api/people", { body: p })),
    ),
    onSuccess: done,
  });
  const away = useMutation({
    mutationFn: (id: string) => unwrap(api.DELETE("/api/people/{id}", { params: { path: { id } } })),
    onSuccess: done,
  });
  const days = p.days ?? [];
  const setDay = (at: number, some: Partial<(typeof days)[number]>) =>
    set({ days: days.map((d, i) => (i === at ? { ...d, ...some } : d)) });
  return (
    <form
      className="product-form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <Row>
        <TextField label="Name" value={p.name} onChange={(name) => set({ name })} />
        <Choice label="They get" value={p.whom ?? ""} options={[...judges]} onChange={(whom) => set({ whom })} />
      </Row>
      <TextField label="What they like" rows={2} value={p.likes ?? ""} onChange={(likes) => set({ likes })} />
      <Tick
        label="Somebody there must keep away from nuts"
        value={p.nuts ?? false}
        onChange={(nuts) => set({ nuts })}
      />
      {days.map((d, i) => (
        <Row key={i}>
          <TextField label="Day that comes back" value={d.name} onChange={(name) => setDay(i, { name })} />
          <TextField
            label="Day and month, like 21.6. or 6/21"
            value={yearDay.show(d.day)}
            onChange={(v) => setDay(i, { day: yearDay.read(v) })}
          />
          <RemoveButton what={d.name || "the day"} onClick={() => set({ days: days.filter((_, k) => k !== i) })} />
        </Row>
      ))}
      <Button size="sm" variant="link" onClick={() => set({ days: [...days, { name: "", day: "" }] })}>
        Add a day that comes back
      </Button>
      <TextField label="Note" rows={2} value={p.note ?? ""} onChange={(note) => set({ note })} />
      {of && of.boards.length > 0 && (
        <div>
          <strong>Boards for them</strong>
          <ul className="plain-list">
            {of.boards.map((b) => (
              <li key={b.id}>
                <Link to={`/boards/${b.id}?stage=give`}>{b.name}</Link>{" "}
                <span className="facts">
                  {b.given
                    ? `given ${time(b.given, false)}`
                    : b.due
                      ? `for ${time(`${b.due}T12:00:00Z`, false)}`
                      : "in work"}
                </span>
              </li>
            ))}
          </ul>
        </div>
      )}
      <FormFoot
        saving={save.isPending}
        ready={p.name.trim() !== ""}
        onClose={onClose}
        what={of && p.name}
        onRemove={() => of && away.mutate(of.id)}
      />
      <Wrong error={save.error ?? away.error} />
    </form>
  );
}
