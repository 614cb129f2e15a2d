// The story stick: a batten with a notch for each stage of the work. It is the
// navigation and the progress, and, against the calendar, the schedule.
import { memo, useEffect, useMemo, useRef, type KeyboardEvent } from "react";
import type { Notch } from "../api/client";
import { LevelMark } from "./verdicts";
import { useWorkshop } from "./workshop";

/** useStages lists the stages of the work in their order, and names them. */
export function useStages(): { stages: string[]; nameOf: (stage: string) => string } {
  const { tables } = useWorkshop();
  return useMemo(
    () => ({
      stages: tables.stages.map((o) => o.stage),
      nameOf: (stage) => tables.stages.find((o) => o.stage === stage)?.name ?? stage,
    }),
    [tables],
  );
}

/** stageOf is the stage of a digit: 1 for the first, 0 for the tenth. */
export const stageOf = (stages: string[], digit: string): string | undefined => stages[(Number(digit) + 9) % 10];

export const StoryStick = memo(function StoryStick({
  notches,
  active,
  onPick,
}: {
  notches: Notch[];
  active: string;
  onPick: (stage: string) => void;
}) {
  const { time } = useWorkshop();
  const { stages, nameOf } = useStages();
  const bar = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // On a phone the stick is longer than the screen.
    bar.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ inline: "center", block: "nearest" });
  }, [active]);
  const onKeyDown = (e: KeyboardEvent) => {
    const step = e.key === "ArrowRight" ? 1 : e.key === "ArrowLeft" ? -1 : 0;
    if (step === 0) return;
    e.preventDefault();
    const next = stages[(stages.indexOf(active) + step + stages.length) % stages.length];
    onPick(next);
    bar.current?.querySelector<HTMLElement>(`[data-stage="${next}"]`)?.focus();
  };
  return (
    <div className="stick" role="tablist" aria-label="Stages of the work" ref={bar} onKeyDown={onKeyDown}>
      {notches.map((n, i) => {
        const state = !n.needed ? "faint" : n.done ? "done" : "open";
        const when = whenOf(n, time);
        return (
          <button
            key={n.stage}
            type="button"
            role="tab"
            id={`stage-${n.stage}`}
            data-stage={n.stage}
            aria-selected={active === n.stage}
            aria-controls="stage-panel"
            tabIndex={active === n.stage ? 0 : -1}
            className={`notch notch-${state} ${active === n.stage ? "is-active" : ""}`}
            onClick={() => onPick(n.stage)}
          >
            <span className="cut" aria-hidden="true" />
            <span className="name">
              <kbd aria-hidden="true">{(i + 1) % 10}</kbd>
              {nameOf(n.stage)}
              {n.level !== "good" && <LevelMark level={n.level} word={false} />}
            </span>
            <span className="when">{when}</span>
          </button>
        );
      })}
    </div>
  );
});

/** whenOf says of a notch when its work ends, or how it stands. */
function whenOf(n: Notch, time: (at: string, withTime?: boolean) => string): string {
  if (n.stage === "wood") return n.done ? "ready" : "not ready";
  if (n.done) return "done";
  if (!n.needed) return "not needed";
  return n.ends ? time(n.ends, false) : "";
}
