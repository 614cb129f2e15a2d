// How a panel is glued: what is spread, the time it leaves, and the clamps on the drawing.
import type { OfParts, Panel } from "../../api/client";
import { Choice, LengthField, Tick } from "../../kit/fields";
import { Amounts } from "../../kit/parts";
import { useWorkshop } from "../../kit/workshop";
import { Steps } from "../../boards/Steps";
import { DryFit } from "./DryFit";
import { Pressing } from "./Pressing";

interface Props {
  panel: Panel;
  parts: OfParts;
  edit: (change: (p: Panel) => Panel, step: string) => void;
}

export function ClampUp({ panel: p, parts, edit }: Props) {
  const { tables, length, value } = useWorkshop();
  const set = (part: Partial<Panel>) => edit((now) => ({ ...now, ...part }), `panel-${Object.keys(part)[0]}`);
  const glue = tables.glues.find((g) => g.name === p.glue);
  return (
    <>
      <h2>Glue-up</h2>
      <p className="state-mark" role="status">
        The panel is {parts.state}.
      </p>
      <Choice
        label="Glue"
        value={p.glue}
        options={tables.glues.map((g) => g.name)}
        onChange={(v) => set({ glue: v })}
      />
      {glue && (
        <p className="facts">
          {glue.water}; {glue.washed ? "washed" : "wiped, not washed"}. Food contact: its own data sheet decides.
        </p>
      )}
      <LengthField
        label="Cauls beside the outer strips"
        of="piece.glue.caul"
        mm={p.caul ?? 0}
        onChange={(caul) => set({ caul })}
      />
      <Tick label="Spread by brush, not by roller" value={p.brush ?? false} onChange={(brush) => set({ brush })} />
      <Tick
        label="Sacrificial pieces take the planer's snipe"
        value={p.sacrificial ?? false}
        onChange={(sacrificial) => set({ sacrificial })}
      />
      {parts.pressed.map((k) => (
        <Pressing key={k.key} pressed={k} parts={parts} />
      ))}
      {parts.pressed.length === 0 && <p className="facts">One strip alone: there is no joint.</p>}
      <Amounts
        rows={[
          ["Glue in all", value(Math.ceil(parts.grams), "g")],
          ["Cauls across both ends", parts.cauls ? "above and below, wrapped" : "not needed"],
          ["End clamp", parts.endClamp ? "one along it: smooth dense wood slides" : "not needed"],
          ["Protection strips", "outside, not glued"],
        ]}
      />
      <p className="facts">
        Heavy where every edge can be cleaned; sparing beside an inside corner, which is taped. Enough is an even line
        of beads along the joint, not a run. Level on the bars before the last turn; stood on edge to dry, runs go one
        way. A clamp takes {length(p.caul ?? 0)} of caul at either side.
      </p>
      <DryFit panel={p} set={set} />
      <Choice
        label="Came open"
        value={p.repair ?? ""}
        options={[{ value: "", label: "nothing" }, "opened joint", "split ply"]}
        onChange={(repair) => set({ repair: repair === "" ? undefined : (repair as Panel["repair"]) })}
      />
      <h3>Steps</h3>
      <Steps course={parts.course} cautions={parts.cautions} />
    </>
  );
}
