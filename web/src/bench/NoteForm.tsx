// What may be written down at every step: words, a picture, a reading, a mishap.
import { useCallback, useId, useState } from "react";
import Button from "react-bootstrap/Button";
import { say, type MeterReading, type Subject } from "../api/client";
import { NumberField } from "../kit/fields";
import { mmPerInch } from "../kit/length";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";
import { shown, Simulated, useInstruments, useReadings } from "../kit/instruments";
import { small } from "./picture";
import type { Anywhere, Note } from "./presses";

interface Props {
  /** Where it is noticed. */
  subject: Subject;
  step: string;
  pending: boolean;
  onNote: (note: Note) => Promise<void>;
  onClose: () => void;
}

/** sender is the kind of instrument that tells a reading, and what it tells. */
const sender: Partial<Record<Anywhere, [kind: MeterReading["kind"], of: (r: MeterReading) => number | null]>> = {
  mass: ["scale", (r) => r.grams],
  moisture: ["moisture meter", (r) => (r.below ? null : r.percent)],
};

export default function NoteForm({ subject, step, pending, onNote, onClose }: Props) {
  const { tables, unit } = useWorkshop();
  const id = useId();
  const [what, setWhat] = useState<Anywhere>("words");
  const [words, setWords] = useState("");
  const [value, setValue] = useState<number | null>(null);
  const [picture, setPicture] = useState("");
  const [wrong, setWrong] = useState("");
  const of = tables.notes.find((n) => n.what === what)!;
  const inches = of.unit === "mm" && unit === "in";
  const per = inches ? mmPerInch : 1; // as a calliper shows it
  const ready = what === "words" ? words.trim() !== "" : what === "picture" ? picture !== "" : value !== null;
  const choose = (to: Anywhere) => {
    setWhat(to);
    setValue(to === "mishap" ? 0 : null);
  };
  const take = async (file: File | undefined) => {
    setWrong("");
    setPicture("");
    if (!file) return;
    try {
      setPicture(await small(file));
    } catch {
      setWrong("This picture cannot be read: take another, as JPEG or PNG.");
    }
  };
  const keep = useTyped(() => {
    const said = words.trim() === "" ? {} : { words: words.trim() };
    const seen = what === "picture" ? { picture } : {};
    return onNote({ what, value: (value ?? 0) * per, ...said, ...seen });
  });
  return (
    <form
      className="note-form"
      onSubmit={(e) => {
        e.preventDefault();
        keep().then(onClose, (error: unknown) => setWrong(say(error)));
      }}
    >
      <div className="choices" role="group" aria-label="What is written down">
        {tables.notes.map((n) => (
          <button key={n.what} type="button" aria-pressed={what === n.what} onClick={() => choose(n.what as Anywhere)}>
            {n.name}
          </button>
        ))}
      </div>
      {of.unit && (
        <NumberField
          key={what}
          label={what === "mishap" ? "Days lost" : of.name}
          unit={what === "mishap" ? "" : inches ? "in" : of.unit}
          least={of.least / per}
          most={of.most / per}
          value={value ?? 0}
          onChange={setValue}
        />
      )}
      {sender[what] && (
        <Sent
          key={`sent ${what}`}
          kind={sender[what][0]}
          of={sender[what][1]}
          at={subject.kind === "board" ? { board: subject.id, step } : { piece: subject.id }}
          onSent={setValue}
        />
      )}
      {what === "picture" && (
        <label className="take-picture">
          <span className="form-label">Picture</span>
          <input
            type="file"
            accept="image/jpeg,image/png"
            capture="environment"
            onChange={(e) => void take(e.target.files?.[0])}
          />
          {picture && <img src={`data:image/jpeg;base64,${picture}`} alt="As it is kept" />}
        </label>
      )}
      <div>
        <label className="form-label" htmlFor={id}>
          {what === "words" ? "Words" : "Words, if you like"}
        </label>
        <textarea
          id={id}
          className="form-control form-control-sm"
          rows={2}
          maxLength={2000}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      </div>
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div>
        <Button type="submit" disabled={pending || !ready}>
          Write it down
        </Button>
        <Button variant="link" size="sm" onClick={onClose}>
          Not now
        </Button>
      </div>
    </form>
  );
}

interface SentProps {
  kind: MeterReading["kind"];
  of: (r: MeterReading) => number | null;
  at: { board?: string; step?: string; piece?: string };
  onSent: (value: number) => void;
}

/** Sent takes what an instrument sends; typing it is always possible. */
function Sent({ kind, of, at, onSent }: SentProps) {
  const all = useInstruments(kind) ?? [];
  return all.length > 0 && <Listening kind={kind} of={of} at={at} onSent={onSent} all={all} />;
}

function Listening({
  kind,
  of,
  at,
  onSent,
  all,
}: SentProps & { all: { id: string; name: string; simulated: boolean }[] }) {
  const { value } = useWorkshop();
  const [last, setLast] = useState<MeterReading>();
  const take = useCallback(
    (r: MeterReading) => {
      if (r.kind !== kind) return;
      setLast(r);
      const told = of(r);
      if (told !== null) onSent(Math.round(told * 10) / 10);
    },
    [kind, of, onSent],
  );
  const listening = useReadings(take);
  return (
    <div className="sent" data-listening={listening}>
      <span className="facts" role="status">
        {last
          ? `${last.name}: ${shown(last, value)}`
          : listening
            ? `Waiting for the ${kind}.`
            : `The ${kind} is not heard.`}
      </span>
      <Simulated of={all} at={at} listening={listening} say={(name) => `Press ${name}`} />
    </div>
  );
}
