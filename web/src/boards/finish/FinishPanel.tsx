// A finish as a list of coats and acts, begun from a school and edited freely.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Act, Board } from "../../api/client";
import { Choice, NumberField, Row, TextField } from "../../kit/fields";
import { cut, put } from "../../kit/items";
import { named, useKeeping } from "../../kit/keeping";
import { Amounts, Wrong } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import type { PanelProps } from "../panel";
import { ActCard } from "./ActCard";

type Finish = Board["finish"];

export function FinishPanel(props: PanelProps) {
  const { board: b, r, set } = props;
  const { tables } = useWorkshop();
  const f = r.finish;
  const edited = (b.finish.list ?? []).length > 0;
  const school = tables.schools.find((s) => s.name === b.finish.school) ?? tables.schools[0];
  return (
    <>
      <h2>Finish</h2>
      <Begin {...props} />
      {!edited && school.most > 1 && (
        <Row>
          <NumberField
            label={`Coats of ${school.acts[0].product}`}
            whole
            value={b.finish.coats || school.coats}
            least={1}
            most={school.most}
            onChange={(coats) => set({ finish: { coats } }, "coats")}
          />
        </Row>
      )}
      <Acts {...props} school={school.name} />
      {(f.added > 0 || f.dropped > 0) && (
        <p className="facts" role="status">
          By what you saw on it:{" "}
          {[f.added > 0 && `${f.added} more`, f.dropped > 0 && `${f.dropped} fewer`].filter(Boolean).join(", ")} than
          were planned.
        </p>
      )}
      {edited && <Keep finish={b.finish} set={set} />}
      {f.paste && <Paste {...props} />}
      <Told r={r} />
    </>
  );
}

/** Acts is the list of coats and acts, edited freely. */
function Acts({ board: b, r, change, school }: PanelProps & { school: string }) {
  const { begins } = useWorkshop().tables;
  const [open, setOpen] = useState<number | null>(null);
  const f = r.finish;
  const edit = (next: (acts: Act[]) => Act[], kind = "") =>
    change((now) => {
      const list = next((now.finish.list ?? []).length > 0 ? now.finish.list! : f.acts);
      return { ...now, finish: { ...now.finish, list } };
    }, kind);
  const move = (i: number, by: number) => {
    edit((acts) => {
      const all = [...acts];
      [all[i], all[i + by]] = [all[i + by], all[i]];
      return all;
    });
    setOpen(open === i ? i + by : open);
  };
  const add = (act: Act) => {
    edit((acts) => [...acts, act]);
    setOpen(f.acts.length);
  };
  let coat = 0;
  return (
    <>
      <ol className="acts">
        {f.acts.map((a, i) => {
          const of = a.product ? f.coats[coat++] : undefined;
          return (
            <ActCard
              key={i}
              act={a}
              coat={of}
              number={coat}
              open={open === i}
              onOpen={() => setOpen(open === i ? null : i)}
              onChange={(part, kind) => edit((acts) => put(acts, i, part), kind && `${kind}-${i}`)}
              onRemove={f.acts.length > 1 ? () => (edit((acts) => cut(acts, i)), setOpen(null)) : undefined}
              onUp={i > 0 ? () => move(i, -1) : undefined}
              onDown={i < f.acts.length - 1 ? () => move(i, 1) : undefined}
            />
          );
        })}
      </ol>
      <div className="d-flex gap-2 flex-wrap">
        <Button size="sm" variant="outline-primary" onClick={() => add({ ...begins[0], id: f.next })}>
          Add a coat
        </Button>
        <Button size="sm" variant="outline-primary" onClick={() => add(begins[begins.length - 1])}>
          Add a wait or a rub
        </Button>
        {(b.finish.list ?? []).length > 0 && (
          <Button
            size="sm"
            variant="link"
            onClick={() => change((now) => ({ ...now, finish: { ...now.finish, list: [], name: "" } }))}
          >
            Back to {school}
          </Button>
        )}
      </div>
    </>
  );
}

/** Told is what the whole finish comes to. */
function Told({ r }: Pick<PanelProps, "r">) {
  const { value, time } = useWorkshop();
  const f = r.finish;
  const food = r.course.steps.findLast((s) => s.restUntil)?.restUntil;
  const rows: [string, string][] = [
    ["Ready for food", food ? time(food) : "once the last coat has rested"],
    ["Bears", f.heat > 0 ? value(f.heat, "°C") : "heat as its data sheet tells"],
    ["In it", f.contents.join("; ")],
  ];
  if (f.nut) rows.push(["Nut oil", "yes: said on the care note"]);
  if (f.bath)
    rows.push(
      ["Oil in the tub", value(f.bath.cover, "ml")],
      ["Left for the next", value(f.bath.kept, "ml")],
      ["Held down by", f.bath.weight > 0 ? value(f.bath.weight, "N") : "nothing: it sinks"],
    );
  return (
    <>
      <Amounts rows={rows} />
      {f.curing && (
        <p className="facts">
          Its rags heat themselves and burn: dry them flat outdoors, or keep them under water in a closed metal can.
        </p>
      )}
    </>
  );
}

/** Begin chooses what a list is begun from: a school of the trade, or one of the maker's own. */
function Begin({ board: b, change }: PanelProps) {
  const { tables, shop } = useWorkshop();
  const own = shop.finishes ?? [];
  const edited = (b.finish.list ?? []).length > 0;
  const now = edited && own.some((o) => o.name === b.finish.name) ? `own ${b.finish.name}` : b.finish.school;
  const take = (to: string) =>
    change((doc) => {
      const kept = own.find((o) => `own ${o.name}` === to);
      const finish: Finish = kept
        ? {
            ...doc.finish,
            school: kept.school as Finish["school"],
            ratio: kept.ratio,
            list: kept.list,
            name: kept.name,
            coats: 0,
          }
        : { ...doc.finish, school: to as Finish["school"], list: [], name: "", coats: 0 };
      return { ...doc, finish };
    });
  return (
    <Choice
      label={edited && !now.startsWith("own ") ? "Begun from" : "As"}
      value={now}
      options={[
        ...tables.schools.map((s) => ({ value: s.name, label: s.name })),
        ...own.map((o) => ({ value: `own ${o.name}`, label: o.name })),
      ]}
      onChange={take}
    />
  );
}

/** Keep keeps an edited list under a name. */
function Keep({ finish: f, set }: { finish: Finish; set: PanelProps["set"] }) {
  const { shop } = useWorkshop();
  const keeping = useKeeping();
  const name = f.name ?? "";
  const there = (shop.finishes ?? []).some((o) => o.name === name);
  return (
    <div className="keep-finish">
      <TextField label="Keep it as" value={name} onChange={(to) => set({ finish: { name: to } }, "finish-name")} />
      <Button
        size="sm"
        variant="outline-primary"
        disabled={name.trim() === "" || keeping.isPending}
        onClick={() =>
          keeping.mutate((now) => ({
            finishes: named(now.finishes, { name, school: f.school, ratio: f.ratio, list: f.list ?? [] }),
          }))
        }
      >
        {there ? "Keep it anew" : "Keep it"}
      </Button>
      {keeping.isSuccess && (
        <span className="facts" role="status">
          Kept with your finishes.
        </span>
      )}
      <Wrong error={keeping.error} />
    </div>
  );
}

/** Paste is how the paste is mixed. */
function Paste({ board: b, r, set }: PanelProps) {
  const { value } = useWorkshop();
  const p = r.finish.paste!;
  return (
    <section aria-labelledby="paste">
      <h3 id="paste">The paste</h3>
      <Row>
        <NumberField
          label="Oil to one of wax"
          of="board.finish.ratio"
          value={b.finish.ratio}
          step={0.5}
          onChange={(ratio) => set({ finish: { ratio } }, "ratio")}
        />
        <NumberField
          label="Mixed at once, 0 as needed"
          unit="g"
          of="board.finish.batch"
          value={b.finish.batch ?? 0}
          step={50}
          onChange={(batch) => set({ finish: { batch } }, "batch")}
        />
      </Row>
      <Amounts
        rows={[
          ["Mixed", value(p.grams, "g")],
          ["Oil", `${value(p.oilG, "g")}, ${value(p.oilMl, "ml")}`],
          ["Beeswax", `${value(p.waxG, "g")}, ${value(p.waxMl, "ml")}`],
          [`At ${value(20, "°C")}`, p.firm],
          ["Sweats above", value(p.weeps, "°C")],
        ]}
      />
      <p className="facts">Melt the wax in a water bath, never over a flame; it melts from {value(p.meltAt, "°C")}.</p>
    </section>
  );
}
