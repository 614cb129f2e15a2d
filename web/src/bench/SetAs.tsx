// How a machine is set, in one line.
import type { Setup } from "../api/client";
import { useWorkshop } from "../kit/workshop";

export function SetAs({ of: s }: { of: Setup | undefined }) {
  const { length } = useWorkshop();
  if (!s) return null;
  const from = s.end === "butt" ? " from the butt end" : s.end === "top" ? " from the top end" : "";
  const set = [
    s.stop && `stop at ${length(s.stop)}${from}`,
    s.fence && `fence at ${length(s.fence)}`,
    s.spacer && `spacer ${length(s.spacer)}`,
    s.lift && `lift ${length(s.lift)}`,
    s.note,
  ].filter(Boolean);
  return (
    <div className="set-as">
      Set as <strong>{s.name}</strong>
      {set.length > 0 && `: ${set.join(", ")}`}
    </div>
  );
}
