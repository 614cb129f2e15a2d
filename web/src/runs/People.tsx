// Who is to get a board of a run, and by when.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Run } from "../api/client";

type Person = NonNullable<Run["people"]>[number];

/** readPeople reads a line for each: a name, and a day behind it where there is one. */
export function readPeople(text: string): Person[] {
  return text
    .split(/\r?\n/)
    .map((line) => {
      const [, name, day] = /^(.*?)(?:[\s,;]+(\d{4}-\d{2}-\d{2}))?\s*$/.exec(line) ?? [];
      return { name: (name ?? "").trim(), ...(day && { day }) };
    })
    .filter((p) => p.name !== "");
}

interface Props {
  people: Person[];
  onChange: (people: Person[]) => void;
}

export function People({ people, onChange }: Props) {
  const [text, setText] = useState("");
  const set = (i: number, some: Partial<Person>) => onChange(people.map((p, k) => (k === i ? { ...p, ...some } : p)));
  return (
    <section className="people">
      <h2>Who has no board yet</h2>
      {people.length === 0 && <p className="facts">Nobody waits for one.</p>}
      <ul className="plain-list">
        {people.map((p, i) => (
          <li key={i}>
            <input
              className="form-control form-control-sm"
              aria-label={`Name, ${i + 1}`}
              value={p.name}
              onChange={(e) => set(i, { name: e.target.value })}
            />
            <input
              className="form-control form-control-sm"
              type="date"
              aria-label={`Day for ${p.name}`}
              value={p.day ?? ""}
              onChange={(e) => set(i, { day: e.target.value })}
            />
            <Button size="sm" variant="link" onClick={() => onChange(people.filter((_, k) => k !== i))}>
              Take off
            </Button>
          </li>
        ))}
      </ul>
      <label className="form-label" htmlFor="more-people">
        More of them, a line each; a day behind the name where it is not that of the run
      </label>
      <textarea
        id="more-people"
        className="form-control form-control-sm"
        rows={3}
        placeholder="Ida 2031-06-20"
        value={text}
        onChange={(e) => setText(e.target.value)}
      />
      <Button
        size="sm"
        variant="outline-primary"
        disabled={readPeople(text).length === 0}
        onClick={() => {
          onChange([...people, ...readPeople(text)]);
          setText("");
        }}
      >
        Add them
      </Button>
    </section>
  );
}
