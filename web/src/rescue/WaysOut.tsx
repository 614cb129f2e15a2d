// Ways out of a mishap: the best first, each drawn over what is left, two of them side by side.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Hurt, WayOut } from "../api/client";
import { showMinutes } from "../kit/length";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { HurtDrawing } from "./HurtDrawing";
import type { Ways } from "./useWays";

export const judges = { own: "Yourself", gift: "Whoever gets it", customer: "A customer" };
export type Judge = keyof typeof judges;

/** useTold tells what a way comes to in the shop's units. */
function useTold() {
  const { words, value, time } = useWorkshop();
  const days = (d: number) => words(`{${Math.abs(Math.round(d * 10) / 10)} d}`);
  const more = (m: number, by: (m: number) => string) => (m < 0 ? `${by(-m)} less` : `${by(m)} more`);
  return {
    words,
    /** What it comes to, line by line. */
    lines: (w: WayOut): [string, string][] => [
      ...(w.path ? ([["Face kept", `${Math.round(w.kept)} %`]] as [string, string][]) : []),
      ...(w.path ? ([["Thickness", value(w.thick, "mm")]] as [string, string][]) : []),
      ["Ready", w.finish ? time(w.finish, false) : w.lost ? "not at all" : "no session holds it"],
      ["Later by", w.later > 0.05 ? days(w.later) : "nothing"],
      ["Its day", w.lost ? "nobody gets it" : w.lateBy > 0 ? `missed by ${days(w.lateBy)}` : "kept"],
      ["Work", Math.abs(w.minutes) < 0.5 ? "no more" : more(w.minutes, showMinutes)],
      ["Costs", w.cents === 0 ? "nothing" : more(w.cents, (c) => value(c, "cents"))],
      ...(w.uses.length > 0
        ? ([["Takes", w.uses.map((u) => `${words(u.item)} ${value(u.amount, u.unit)}`).join(", ")]] as [
            string,
            string,
          ][])
        : []),
    ],
    short: (w: WayOut): string =>
      [
        w.lost
          ? "nobody gets it"
          : w.lateBy > 0
            ? `${days(w.lateBy)} too late`
            : w.later > 0.05
              ? `${days(w.later)} later`
              : "no day later",
        Math.abs(w.minutes) < 0.5 ? "no more work" : more(w.minutes, showMinutes),
        ...(w.path ? [`${Math.round(w.kept)} % of its face`] : []),
      ].join(" · "),
  };
}

interface Props {
  of: Hurt;
  found: Ways;
  /** Who judges it, to begin with. */
  whom: Judge;
  /** What is done with a way that is chosen. */
  take: string;
  pending: boolean;
  onTake: (way: WayOut) => void;
  /** Nothing is said of which is best. */
  blind?: boolean;
}

export function WaysOut({ of, found, whom, take, pending, onTake, blind = false }: Props) {
  const told = useTold();
  const [judge, setJudge] = useState<Judge>(whom);
  const [open, setOpen] = useState("");
  const [beside, setBeside] = useState("");
  const fit = found.ways.filter((w) => w.for.includes(judge));
  const shown = blind ? fit.toSorted((a, b) => a.label.localeCompare(b.label)) : fit;
  const chosen = shown.find((w) => w.key === open) ?? (blind ? undefined : shown[0]);
  const other = shown.find((w) => w.key === beside && w !== chosen);
  const hidden = found.ways.length - fit.length;
  return (
    <div className="ways-out">
      <div className="ways-drawn">
        <div className={other ? "ways-beside" : ""}>
          {[chosen, other].map(
            (w, i) =>
              (w ?? i === 0) && (
                <figure key={i}>
                  <HurtDrawing of={of} way={w} label={w ? w.label : "What is left of it"} />
                  <figcaption>{w ? told.words(w.label) : "What is gone is marked on it"}</figcaption>
                  {w && (
                    <Button size="sm" disabled={pending} onClick={() => onTake(w)}>
                      {take}
                    </Button>
                  )}
                </figure>
              ),
          )}
        </div>
      </div>
      <div className="ways-more">
        <div className={other ? "ways-beside" : ""}>
          {[chosen, other].map((w) => w && <Comes key={w.key} lines={told.lines(w)} />)}
        </div>
        {chosen && <Chosen of={chosen} />}
      </div>
      <div className="ways-list">
        <div className="ways-judge" role="group" aria-label="Who judges it">
          <span>Who judges it:</span>
          {(Object.keys(judges) as Judge[]).map((j) => (
            <button key={j} type="button" aria-pressed={judge === j} onClick={() => setJudge(j)}>
              {judges[j]}
            </button>
          ))}
        </div>
        <p className="facts" role="status">
          {found.over
            ? `${shown.length} ${shown.length === 1 ? "way" : "ways"}; ${found.over.tried} were tried`
            : found.failed
              ? "The ways out cannot be reckoned: look at the board's own sheet."
              : "Trying what may be done"}
          {hidden > 0 && `; ${hidden} more would be seen as a fault by ${judges[judge].toLowerCase()}`}
        </p>
        <ul className="plain-list">
          {shown.map((w, i) => (
            <li key={w.key} className={`way ${w === chosen ? "open" : ""}`} data-way={w.key}>
              <button type="button" className="way-open" aria-pressed={w === chosen} onClick={() => setOpen(w.key)}>
                <HurtDrawing of={of} way={w} label="" small />
                <span>
                  <strong>{told.words(w.label)}</strong>
                  {!blind && i === 0 && !w.lost && <span className="way-first">first by the rules</span>}
                  <span className="facts">{told.short(w)}</span>
                </span>
              </button>
              {w !== chosen && chosen && (
                <button
                  type="button"
                  className="text-link facts"
                  aria-pressed={w === other}
                  onClick={() => setBeside(w === other ? "" : w.key)}
                >
                  {w === other ? "Not beside it" : "Compare"}
                </button>
              )}
            </li>
          ))}
        </ul>
        {found.over && found.over.dropped.length > 0 && (
          <details>
            <summary>{found.over.dropped.length} that were tried and bring a stop</summary>
            <ul className="plain-list facts">
              {found.over.dropped.map((d, i) => (
                <li key={i}>
                  {told.words(d.label)}: {told.words(d.why)}
                </li>
              ))}
            </ul>
          </details>
        )}
      </div>
    </div>
  );
}

function Comes({ lines }: { lines: [string, string][] }) {
  return (
    <dl className="amounts">
      {lines.map(([k, v]) => (
        <div key={k}>
          <dt>{k}</dt>
          <dd>{v}</dd>
        </div>
      ))}
    </dl>
  );
}

/** Chosen is the way that is looked at: what is done, what it gives up, what else it makes worse. */
function Chosen({ of: w }: { of: WayOut }) {
  const { words } = useWorkshop();
  const parts: [string, string[]][] = [
    ["Done beside the plan", w.steps],
    ["Given up", w.gives],
    ["Made worse", w.breaks],
    ["To mind then", w.mind.filter((m) => !w.breaks.includes(m))],
  ];
  return (
    <section className="way-chosen" aria-label="The way that is chosen">
      <LevelMark level={w.level} />
      {parts.map(
        ([name, lines]) =>
          lines.length > 0 && (
            <div key={name}>
              <strong>{name}</strong>
              <ul>
                {lines.map((line, i) => (
                  <li key={i}>{words(line)}</li>
                ))}
              </ul>
            </div>
          ),
      )}
    </section>
  );
}
