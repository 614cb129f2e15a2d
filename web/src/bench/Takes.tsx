// What a step takes, looked at before it is begun.
import type { BenchBoard, Dated } from "../api/client";
import { useWorkshop } from "../kit/workshop";

export function Takes({ of: all, step }: { of: BenchBoard["takes"]; step: Dated }) {
  const { value, words } = useWorkshop();
  const of = (all ?? []).filter((t) => t.step === step.key); // others when the next one was reached without the server
  if (of.length === 0 || step.state !== "to do") return null;
  return (
    <div className="facts takes">
      Takes{" "}
      {of.map((t, i) => (
        <span key={t.item}>
          {i > 0 && "; "}
          {value(t.amount, t.unit)} of {words(t.item)}
          {t.known && (
            <span className={t.left < t.amount ? "late" : ""}>
              {", "}
              {t.left > 0 ? `${value(t.left, t.unit)} left` : "none left"}
            </span>
          )}
        </span>
      ))}
    </div>
  );
}
