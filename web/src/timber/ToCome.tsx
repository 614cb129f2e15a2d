// What wood must be got, by when, to be dry on a day.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type ToCome as Ask } from "../api/client";
import { DayField, LengthField, NumberField, TextField } from "../kit/fields";
import { showDay } from "../kit/length";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";

/** aYearFrom is the same day of the next year. */
function aYearFrom(now: Date): string {
  return `${now.getFullYear() + 1}${now.toISOString().slice(4, 10)}`;
}

/** ToCome asks for wood for a day to come, and tells what to get and by when. */
export function ToCome({ species }: { species: string[] }) {
  const { value, length, tables, shop } = useWorkshop();
  const [ask, setAsk] = useState<Ask>({
    species: species[0] ?? "London plane",
    thickness: 30,
    day: aYearFrom(new Date()),
    boards: 12,
    board: 450,
    log: 2400,
    trim: 50,
  });
  const told = useMutation({
    mutationFn: (body: Ask) => unwrap(api.POST("/api/pieces/to-come", { body })),
  });
  const set = (part: Partial<Ask>) => {
    setAsk((now) => ({ ...now, ...part }));
    told.reset(); // what was told is of something else
  };
  const names = [...(shop.species ?? []).map((own) => own.name), ...tables.species.map((known) => known.name)];
  const t = told.data;
  return (
    <details className="to-come">
      <summary>Wood for a day to come</summary>
      <div className="narrow">
        <TextField label="Of which wood" value={ask.species} list={names} onChange={(v) => set({ species: v })} />
        <DayField label="Dry by" value={ask.day} onChange={(day) => set({ day })} />
        <NumberField label="Boards" of="toCome.boards" value={ask.boards} onChange={(boards) => set({ boards })} />
        <LengthField
          label="Milled to"
          of="toCome.thickness"
          mm={ask.thickness}
          onChange={(thickness) => set({ thickness })}
        />
        <LengthField label="A board, rough" of="toCome.board" mm={ask.board} onChange={(board) => set({ board })} />
        <LengthField label="A log" of="toCome.log" mm={ask.log} onChange={(log) => set({ log })} />
        <LengthField label="Trimmed off an end" of="toCome.trim" mm={ask.trim} onChange={(trim) => set({ trim })} />
        <Button size="sm" className="align-self-end mb-1" disabled={told.isPending} onClick={() => told.mutate(ask)}>
          Reckon it
        </Button>
      </div>
      <Wrong error={told.error} />
      {t && told.variables && (
        <div role="status">
          <p>
            {told.variables.species}, milled to {length(told.variables.thickness)}.{" "}
            {t.perLog === 1 ? "One board" : `${t.perLog} boards`} from a length.{" "}
            {t.onRack > 0 && `The rack holds ${t.onRack} by then. `}
            <strong>{t.logs === 1 ? "One length" : `${t.logs} lengths`} to get.</strong>
          </p>
          <table className="rungs">
            <thead>
              <tr>
                <th scope="col">As it is got</th>
                <th scope="col">Moisture</th>
                <th scope="col">Days to dry</th>
                <th scope="col">Milled and stacked by</th>
              </tr>
            </thead>
            <tbody>
              {t.ways.map((w) => (
                <tr key={w.state}>
                  <th scope="row">{w.state}</th>
                  <td>{value(w.percent, "%")}</td>
                  <td>{w.by ? Math.ceil(w.days) : ""}</td>
                  <td>{w.by ? `${showDay(w.by)}${w.late ? ", which has passed" : ""}` : "never here"}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <p className="facts">
            To {value(t.target, "%")}, in air that brings it to {value(t.rest, "%")}; time constant{" "}
            {value(Math.round(t.tau), "d")}. An estimate: read it with a meter.
          </p>
        </div>
      )}
    </details>
  );
}
