// The samples: cut from one plank, each with a mark and a treatment, one of them bare.
import { useQuery } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, unwrap, type Trial } from "../../api/client";
import type { Edit } from "../../kit/document/useDocument";
import { Choice, NumberField, RemoveButton, Row, TextField, Tick, wordsOf } from "../../kit/fields";
import { cut, put } from "../../kit/items";
import { useWorkshop } from "../../kit/workshop";
import { SampleShape } from "./SampleShape";

type Sample = Trial["samples"][number];

export function Samples({ trial: t, set, plank }: { trial: Trial; set: Edit<Trial>; plank: string }) {
  const { tables } = useWorkshop();
  const rack = useQuery({
    queryKey: ["pieces", "planks"],
    queryFn: () => unwrap(api.GET("/api/pieces", { params: { query: { page: 0 } } })),
  });
  const change = (i: number, part: Partial<Sample>, kind = "") =>
    set((now) => ({ samples: put(now.samples, i, part) }), kind && `${kind}-${i}`);
  const free = tables.marks.filter((m) => !t.samples.some((s) => s.mark === m));
  const planks = (rack.data?.items ?? []).map((p) => ({ value: p.id, label: p.name }));
  if (t.plank && !planks.some((p) => p.value === t.plank))
    planks.unshift({ value: t.plank, label: plank || "a piece" });
  return (
    <>
      <Row>
        <Choice
          label="All cut from"
          value={t.plank ?? ""}
          options={[{ value: "", label: "a plank at hand" }, ...planks]}
          onChange={(to) => set({ plank: to })}
        />
        {t.plank && (
          <Link to={`/timber/${t.plank}`} className="align-self-end">
            See it
          </Link>
        )}
      </Row>
      <Tick
        label="Blind: who scores sees the marks alone, in shuffled order"
        value={t.blind ?? false}
        onChange={(blind) => set({ blind })}
      />
      <ul className="plain-list samples">
        {t.samples.map((s, i) => (
          <li key={s.mark} className="sample">
            <div className="sample-head">
              <SampleShape mark={s.mark} />
              <Choice
                label="Mark"
                value={s.mark}
                options={wordsOf([s.mark, ...free])}
                onChange={(mark) => change(i, { mark })}
              />
              <Tick
                label="Left bare"
                value={s.control ?? false}
                onChange={(control) => change(i, control ? { control, product: "", treatment: "" } : { control })}
              />
              <RemoveButton
                what={`the sample with ${s.mark}`}
                disabled={t.rounds.length > 0 || t.samples.length < 2}
                onClick={() => set((now) => ({ samples: cut(now.samples, i) }))}
              />
            </div>
            {!s.control && (
              <>
                <TextField
                  label="Treatment"
                  value={s.treatment}
                  onChange={(treatment) => change(i, { treatment }, "treatment")}
                />
                <Row>
                  <Choice
                    label="Product"
                    value={s.product ?? ""}
                    options={[{ value: "", label: "another" }, ...wordsOf(tables.products.map((p) => p.name))]}
                    onChange={(product) => change(i, { product })}
                  />
                  {tables.products.find((p) => p.name === s.product)?.wax && (
                    <NumberField
                      label="Oil to one of wax"
                      of="trial.samples.ratio"
                      value={s.ratio ?? 0}
                      step={0.5}
                      onChange={(ratio) => change(i, { ratio }, "ratio")}
                    />
                  )}
                  <NumberField
                    label="Put on"
                    unit="g"
                    of="trial.samples.grams"
                    value={s.grams ?? 0}
                    onChange={(grams) => change(i, { grams }, "grams")}
                  />
                </Row>
              </>
            )}
          </li>
        ))}
      </ul>
      {t.rounds.length === 0 ? (
        <Button
          size="sm"
          variant="outline-primary"
          disabled={free.length === 0}
          onClick={() =>
            set((now) => ({ samples: [...now.samples, { mark: free[0] as Sample["mark"], treatment: "" }] }))
          }
        >
          Add a sample
        </Button>
      ) : (
        <p className="facts">Once a round is scored no sample comes or goes.</p>
      )}
    </>
  );
}
