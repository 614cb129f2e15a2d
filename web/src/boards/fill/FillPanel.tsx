// The voids within the board, what fills them, and the resin.
import type { Reckoned } from "../../api/client";
import type { PanelProps } from "../panel";
import { Curing } from "./Curing";
import { Resin } from "./Resin";
import { VoidCard } from "./VoidCard";

type End = Reckoned["ends"][number];

const ends: Partial<Record<End["end"], string>> = {
  "cut away": "cut away by the outline",
  "planed off": "planed off",
  "sanded off": "sanded out",
  steamed: "steamed up",
  hardened: "hardened: it stays as figure",
  kept: "sound, and stays",
  left: "left as it is",
};

/** endOf tells what becomes of a mark. */
function endOf(e: End): string {
  const rest = e.part ? "in part cut away, the rest " : "";
  if (e.end === "taken out") return e.by ? `taken out by the ${e.by}` : "taken out by what is cut into the board";
  return rest + (ends[e.end] ?? `filled with ${e.by}`);
}

export function FillPanel(props: PanelProps) {
  const { r, board, change } = props;
  return (
    <>
      <h2>Voids within the board</h2>
      {r.voids.length === 0 && <p className="facts">No void falls within this board.</p>}
      {r.voids.map((v) => (
        <VoidCard key={v.flaw} v={v} {...props} />
      ))}
      {r.ends.length > 0 && (
        <>
          <h2>What becomes of each mark</h2>
          <ul className="plain-list ends">
            {r.ends.map((e) => (
              <li key={e.flaw} data-end={e.end}>
                <strong>{e.name}</strong>: {endOf(e)}
              </li>
            ))}
          </ul>
        </>
      )}
      {r.mix && (
        <Resin
          mix={r.mix}
          chosen={board.fill}
          choose={(next, kind) => change((now) => ({ ...now, fill: { ...now.fill, ...next } }), kind)}
        />
      )}
      {r.curing && <Curing of={r.curing} />}
    </>
  );
}
