// Cards in languages of one's own: each line is written once.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Language } from "../api/client";
import { RemoveButton, Row, TextField } from "../kit/fields";
import { Wrong } from "../kit/parts";
import type { Props } from "./sections";

export function Languages({ shop: s, set }: Props) {
  const [open, setOpen] = useState(-1);
  const all = s.languages ?? [];
  const lines = useQuery({
    queryKey: ["card-lines"],
    queryFn: () => unwrap(api.GET("/api/cards/lines")),
    staleTime: Infinity,
    enabled: open >= 0,
  });
  const change = (at: number, next: (l: Language) => Language, key: string) =>
    set((now) => ({ languages: (now.languages ?? []).map((l, i) => (i === at ? next(l) : l)) }), `language ${key}`);
  return (
    <section>
      <h2>Languages of cards</h2>
      <p className="facts">
        What stands in braces is filled in. A line that is left empty stands in English on the card, and is told there.
      </p>
      {all.map((l, i) => (
        <div key={i}>
          <Row>
            <TextField
              label="Language"
              value={l.name}
              onChange={(name) => change(i, (was) => ({ ...was, name }), "name")}
            />
            <Button size="sm" variant="link" aria-expanded={open === i} onClick={() => setOpen(open === i ? -1 : i)}>
              {open === i ? "Close" : "Its lines"}
              <span className="visually-hidden"> in {l.name}</span>
            </Button>
            <RemoveButton
              what={l.name}
              onClick={() =>
                set((now) => ({ languages: (now.languages ?? []).filter((_, k) => k !== i) }), "languages")
              }
            />
          </Row>
          {open === i &&
            lines.data
              ?.filter((line) => line.form !== `{${line.key}}`)
              .map((line) => (
                <TextField
                  key={line.key}
                  label={line.form}
                  rows={2}
                  value={l.lines[line.key] ?? ""}
                  onChange={(v) => change(i, (was) => ({ ...was, lines: { ...was.lines, [line.key]: v } }), line.key)}
                />
              ))}
        </div>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => {
          setOpen(all.length);
          set(
            (now) => ({ languages: [...(now.languages ?? []), { name: `Language ${all.length + 1}`, lines: {} }] }),
            "languages",
          );
        }}
      >
        Add a language
      </Button>
      <Wrong error={lines.error} />
    </section>
  );
}
