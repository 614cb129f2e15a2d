// The steps of a board with their dates, waits and cautions.
import type { Reckoned } from "../api/client";
import { showMinutes } from "../kit/length";
import { Working } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

export function Steps({ course, cautions }: { course: Reckoned["course"]; cautions: Reckoned["cautions"] }) {
  const { time, words } = useWorkshop();
  return (
    <ol className="steps">
      {course.steps.map((s) => (
        <li key={s.key} className={`step step-${s.state.replace(" ", "-")} ${s.late ? "late" : ""}`} data-step={s.key}>
          <Working
            figure={s.working}
            line={
              <>
                <strong className="figure-label">{words(s.title)}</strong>
                {s.state === "done" ? `${showMinutes(s.spent)}, done` : s.minutes > 0 && showMinutes(s.minutes)}
              </>
            }
          />
          <div className="facts">
            {s.detail && <>{words(s.detail)}. </>}
            {s.starts && <>{time(s.starts)}. </>}
            {s.full && <>No place is free sooner: {words(s.full)}. </>}
            {s.latestAt && s.state !== "done" && <>At the latest {time(s.latestAt)}. </>}
            {s.wait > 0 && (
              <>
                Then {showMinutes(s.wait)} for {words(s.waitFor)}.{" "}
              </>
            )}
            {s.attended && s.state !== "done" && (
              <>{s.alone ? "No session holds what should follow at once. " : "What follows is done at once. "}</>
            )}
            {s.rest > 0 && <>Then {showMinutes(s.rest)} of rest before food.</>}
          </div>
          {(cautions[s.key] ?? []).length > 0 && (
            <details className="cautions">
              <summary>Take care: {cautions[s.key].map((c) => c.title).join(", ")}</summary>
              {cautions[s.key].map((c) => (
                <p key={c.title}>
                  <strong>{c.title}.</strong> {words(c.text)}
                </p>
              ))}
            </details>
          )}
        </li>
      ))}
    </ol>
  );
}
