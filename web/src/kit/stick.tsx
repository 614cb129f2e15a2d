// The story stick: a batten with a notch for each stage of the work. It is the
// navigation and the progress, and, against the calendar, the schedule.
import { memo, useEffect, useRef, type KeyboardEvent } from "react";
import type { Notch } from "../api/client";
import { LevelMark } from "./verdicts";
import { useWorkshop } from "./workshop";

export const stageNames: Record<string, string> = {
  wood: "Wood",
  layout: "Lay out",
  flatten: "Flatten",
  glue: "Glue",
  fill: "Fill",
  shape: "Shape",
  sand: "Sand",
  finish: "Finish",
  fit: "Fit",
  give: "Give",
};

export const stages = Object.keys(stageNames);

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
  const bar = useRef<HTMLDivElement>(null);
  useEffect(() => {
    bar.current?.querySelector("[aria-selected=true]")?.scrollIntoView({ inline: "center", block: "nearest" }); // on a phone the stick is longer than the screen
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
        const when =
          n.stage === "wood"
            ? n.done
              ? "ready"
              : "not ready"
            : n.done
              ? "done"
              : n.needed && n.ends
                ? time(n.ends, false)
                : n.needed
                  ? ""
                  : "not needed";
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
              {stageNames[n.stage]}
              {n.level !== "good" && <LevelMark level={n.level} word={false} />}
            </span>
            <span className="when">{when}</span>
          </button>
        );
      })}
    </div>
  );
});
