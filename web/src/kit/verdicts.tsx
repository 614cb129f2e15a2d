// Verdicts with their way out, and figures that open to their working.
import { memo, useState } from "react";
import Button from "react-bootstrap/Button";
import type { Figure, Remedy, Verdict } from "../api/client";
import { useWorkshop } from "./workshop";

export type Level = "good" | "mind" | "stop";

const shapes: Record<Level, string> = {
  good: "M3 8.5 7 12.5 14 4.5",
  mind: "M8.5 2 15.5 14.5H1.5Z",
  stop: "M5.5 1.5h6l4 4v6l-4 4h-6l-4-4v-6Z",
};

/** LevelMark shows a level by colour, shape and word. */
export function LevelMark({ level, word = true }: { level: string; word?: boolean }) {
  const l = level as Level;
  return (
    <span className={`level level-${l}`}>
      <svg viewBox="0 0 17 17" width="14" height="14" aria-hidden="true">
        <path
          d={shapes[l]}
          fill={l === "good" ? "none" : "currentColor"}
          stroke="currentColor"
          strokeWidth={l === "good" ? 2.4 : 0}
        />
      </svg>
      {word ? <span className="word">{l}</span> : <span className="visually-hidden">{l}</span>}
    </span>
  );
}

function useRemedyLabel() {
  const { value, words } = useWorkshop();
  return (r: Remedy) => words(r.label.replace("{}", value(r.amount, r.unit)));
}

interface LineProps {
  verdict: Verdict;
  /** What is open: what a remedy must act on to be done here. */
  on: string;
  onRemedy?: (r: Remedy) => void;
}

function VerdictLine({ verdict: v, on, onRemedy }: LineProps) {
  const { value, words } = useWorkshop();
  const label = useRemedyLabel();
  return (
    <li className={`verdict verdict-${v.level}`} data-check={v.check} data-level={v.level}>
      <div className="d-flex gap-2 align-items-start">
        <LevelMark level={v.level} />
        <div className="flex-grow-1">
          <div className="finding">{words(v.finding)}</div>
          <Working
            figure={v.figure}
            line={
              <>
                {v.figure.label} <strong>{value(v.figure.value, v.figure.unit)}</strong>
                {v.figure.rule && <abbr title="Rests on a rule of thumb"> ≈</abbr>}
                <span className="limit">
                  {" "}
                  · {v.atLeast ? "at least" : "at most"} {value(v.limit, v.figure.unit)}
                </span>
              </>
            }
          />
          {v.level !== "good" && <div className="reason">{words(v.reason)}</div>}
          {onRemedy && v.remedies.length > 0 && (
            <div className="remedies">
              {v.remedies.map((r, i) => (
                <span key={i}>
                  {r.on === on ? (
                    <Button size="sm" variant="outline-primary" onClick={() => onRemedy(r)}>
                      {label(r)}
                    </Button>
                  ) : (
                    <em>
                      {label(r)}, at the {r.on}
                    </em>
                  )}
                  {r.worsens && <span className="worsens">but {words(r.worsens)}</span>}
                </span>
              ))}
            </div>
          )}
        </div>
      </div>
    </li>
  );
}

/** Verdicts lists checks, the good ones folded away. */
export const Verdicts = memo(function Verdicts({
  verdicts,
  on = "board",
  onRemedy,
}: {
  verdicts: Verdict[];
  on?: string;
  onRemedy?: (r: Remedy) => void;
}) {
  const bad = verdicts.filter((v) => v.level !== "good");
  const good = verdicts.filter((v) => v.level === "good");
  return (
    <div className="verdicts">
      <ul>
        {bad.map((v, i) => (
          <VerdictLine key={`${v.check}-${v.subject}-${i}`} verdict={v} on={on} onRemedy={onRemedy} />
        ))}
      </ul>
      {good.length > 0 && (
        <details open={bad.length === 0}>
          <summary>
            <LevelMark level="good" word={false} /> {good.length} {good.length === 1 ? "check" : "checks"} clear of the
            limit
          </summary>
          <ul>
            {good.map((v, i) => (
              <VerdictLine key={`${v.check}-${v.subject}-${i}`} verdict={v} on={on} onRemedy={onRemedy} />
            ))}
          </ul>
        </details>
      )}
    </div>
  );
});

/** Working opens a figure to its formula, the values put in, and the source. */
export function Working({ figure: f, line }: { figure: Figure; line: React.ReactNode }) {
  const { value, words } = useWorkshop();
  const [open, setOpen] = useState(false);
  return (
    <div className={`working ${open ? "is-open" : ""}`} data-figure={f.key}>
      <button type="button" className="working-line" aria-expanded={open} onClick={() => setOpen(!open)}>
        <span>{line}</span>
        <span className="working-cue" aria-hidden="true">
          {open ? "−" : "+"}
        </span>
        <span className="visually-hidden">{open ? "Hide the working" : "Show the working"}</span>
      </button>
      {open && (
        <div className="working-body">
          <p>
            {words(f.label)} = {words(f.formula)}
          </p>
          {f.terms.length > 0 && (
            <dl>
              {f.terms.map((t, i) => (
                <div key={i}>
                  <dt>{words(t.name)}</dt>
                  <dd>{value(t.value, t.unit)}</dd>
                </div>
              ))}
            </dl>
          )}
          <p className="source">
            {f.rule ? "An estimate. " : ""}Source: {words(f.source)}
          </p>
        </div>
      )}
    </div>
  );
}

/** Figures lists numbers, each with its working. */
export const Figures = memo(function Figures({ figures }: { figures: Figure[] }) {
  const { value } = useWorkshop();
  return (
    <div className="figures">
      {figures.map((f, i) => (
        <Working
          key={`${f.key}-${i}`}
          figure={f}
          line={
            <>
              <span className="figure-label">{f.label}</span>
              <strong>
                {f.rule && <abbr title="Rests on a rule of thumb">≈ </abbr>}
                {value(f.value, f.unit)}
              </strong>
            </>
          }
        />
      ))}
    </div>
  );
});
