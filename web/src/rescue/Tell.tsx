// Telling what went wrong: the kind, a mark on the drawing, a number or two.
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";
import { serverNow } from "../api/asking";
import type { MishapKind, RescueSheet } from "../api/client";
import { usePresses } from "../bench/kept";
import { small } from "../bench/picture";
import { Choice, LengthField, NumberField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { MarkGone, marksOf, type Marked } from "./MarkGone";
import { pictures } from "./pictures";

export function KindPicture({ of }: { of: string }) {
  const [wood, wrong] = pictures[of] ?? ["", ""];
  return (
    <svg className="kind-picture" viewBox="0 0 30 26" width="60" height="52" aria-hidden="true">
      <path className="wood" d={wood} />
      <path className="gone" d={wrong} />
    </svg>
  );
}

interface Props {
  sheet: RescueSheet;
  /** Key of the step at which it happened. */
  step: string;
  onTold: () => Promise<unknown>;
}

export function Tell({ sheet, step, onTold }: Props) {
  const { words } = useWorkshop();
  const [kind, setKind] = useState<MishapKind>();
  const [all, setAll] = useState(false);
  if (kind)
    return (
      <Marking key={kind.key} sheet={sheet} kind={kind} step={step} onBack={() => setKind(undefined)} onTold={onTold} />
    );
  const offered = all || sheet.likely === 0 ? sheet.kinds : sheet.kinds.slice(0, sheet.likely);
  return (
    <section aria-labelledby="what-went-wrong">
      <h2 id="what-went-wrong">What went wrong?</h2>
      <ul className="plain-list mishap-kinds">
        {offered.map((k) => (
          <li key={k.key}>
            <button type="button" data-kind={k.key} onClick={() => setKind(k)}>
              <KindPicture of={k.key} />
              <span>{k.name}</span>
            </button>
          </li>
        ))}
      </ul>
      {!all && offered.length < sheet.kinds.length && (
        <button type="button" className="text-link" onClick={() => setAll(true)}>
          Something else
        </button>
      )}
      {sheet.before.length > 0 && (
        <section className="went-before" aria-label="What has happened here before">
          {sheet.before.map((c) => (
            <p key={c.kind} className="facts">
              <strong>{c.name}</strong>, {c.times === 1 ? "once" : `${c.times} times`}. {words(c.before)}
            </p>
          ))}
        </section>
      )}
    </section>
  );
}

function Marking({ sheet, kind, step, onBack, onTold }: Props & { kind: MishapKind; onBack: () => void }) {
  const { words } = useWorkshop();
  const presses = usePresses();
  const id = useId();
  const [first] = marksOf(kind);
  const [marked, setMarked] = useState<Marked>({ mark: first ?? "area", points: [] });
  const [depth, setDepth] = useState(0);
  const [under, setUnder] = useState(false);
  const [thickness, setThickness] = useState(0);
  const [days, setDays] = useState(0);
  const [wrong, setWrong] = useState("");
  const [pending, setPending] = useState(false);
  const [told, setTold] = useState<Told>({ step, words: "", picture: "" });
  const deep = kind.marks.includes("depth");
  const thin = kind.marks.includes("thickness");
  const ready = (first === undefined || marked.points.length > 0) && (!thin || thickness > 0);
  const tell = async () => {
    setPending(true);
    setWrong("");
    const { mark, points } = marked;
    const places =
      points.length === 0
        ? {}
        : mark === "place"
          ? { place: points[0] }
          : mark === "line"
            ? { line: points }
            : { area: points };
    const title = sheet.steps.find((s) => s.key === told.step)?.title ?? "";
    await presses.add({
      board: sheet.board.id,
      step: told.step,
      title,
      event: "note",
      minutes: 0,
      at: new Date(serverNow()).toISOString(),
      note: {
        what: "mishap",
        value: days,
        ...(told.words.trim() && { words: told.words.trim() }),
        ...(told.picture && { picture: told.picture }),
        mishap: { kind: kind.key, ...places, depth, under, thickness },
      },
    });
    setPending(false);
    const no = presses.refused().find((r) => r.press.board === sheet.board.id);
    if (no) setWrong(no.why);
    else await onTold();
  };
  return (
    <form
      className="mishap-form"
      aria-labelledby={`${id}-kind`}
      onSubmit={(e) => {
        e.preventDefault();
        void tell();
      }}
    >
      <h2 id={`${id}-kind`}>
        <KindPicture of={kind.key} /> {kind.name}
      </h2>
      <p className="mishap-next">
        <strong>First:</strong> {words(kind.next)}
      </p>
      {first && <MarkGone of={sheet} kind={kind} marked={marked} onMark={setMarked} />}
      <div className="field-row">
        {deep && first && (
          <div className="choice-row" role="group" aria-label="On which face">
            {[false, true].map((u) => (
              <button key={String(u)} type="button" aria-pressed={under === u} onClick={() => setUnder(u)}>
                {u ? "Under face" : "Show face"}
              </button>
            ))}
          </div>
        )}
        {deep && (
          <LengthField
            label={first ? (kind.skin ? "How deep, 0 if you cannot tell" : "How deep, 0 for through") : "How much"}
            of="mishap.depth"
            mm={depth}
            onChange={setDepth}
          />
        )}
        {thin && (
          <LengthField
            label="Thickness now, at its thinnest"
            of="mishap.thickness"
            mm={thickness}
            onChange={setThickness}
          />
        )}
        <NumberField label="Days lost by it" least={0} most={90} value={days} onChange={setDays} />
      </div>
      <More sheet={sheet} told={told} onTell={(next) => setTold({ ...told, ...next })} onWrong={setWrong} />
      {wrong && (
        <p className="wrong" role="alert">
          {wrong}
        </p>
      )}
      <div className="mishap-foot">
        <Button type="submit" size="lg" disabled={pending || !ready}>
          Show the ways out
        </Button>
        <Button variant="link" onClick={onBack}>
          Something else
        </Button>
      </div>
    </form>
  );
}

/** Told is what else is told of a mishap. */
interface Told {
  step: string;
  words: string;
  picture: string;
}

interface MoreProps {
  sheet: RescueSheet;
  told: Told;
  onTell: (told: Partial<Told>) => void;
  onWrong: (why: string) => void;
}

/** More is what may be told beside the mark. */
function More({ sheet, told, onTell, onWrong }: MoreProps) {
  const { words } = useWorkshop();
  const id = useId();
  const take = async (file: File | undefined) => {
    onTell({ picture: "" });
    if (!file) return;
    try {
      onTell({ picture: await small(file) });
    } catch {
      onWrong("This picture cannot be read: take another, as JPEG or PNG.");
    }
  };
  return (
    <details>
      <summary>Words, a picture, another step</summary>
      <Choice
        label="At which step"
        value={told.step}
        options={sheet.steps.map((s) => ({ value: s.key, label: words(s.title) }))}
        onChange={(step) => onTell({ step })}
      />
      <label className="form-label" htmlFor={`${id}-words`}>
        Words
      </label>
      <textarea
        id={`${id}-words`}
        className="form-control form-control-sm"
        rows={2}
        maxLength={2000}
        value={told.words}
        onChange={(e) => onTell({ words: e.target.value })}
      />
      <label className="take-picture">
        <span className="form-label">Picture</span>
        <input
          type="file"
          accept="image/jpeg,image/png"
          capture="environment"
          onChange={(e) => void take(e.target.files?.[0])}
        />
        {told.picture && <img src={`data:image/jpeg;base64,${told.picture}`} alt="As it is kept" />}
      </label>
    </details>
  );
}
