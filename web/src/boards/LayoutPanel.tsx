// The board in figures: its shape, for whom, where on the slab it lies, and how it is cut out.
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { Choice, kindsOf, Row, sawsOf, Tick } from "../kit/fields";
import { Figures } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import type { PanelProps } from "./panel";
import { PlaceFields } from "./PlaceFields";
import { ServesFields } from "./ServesFields";
import { Dimensions } from "./shape/Dimensions";
import { HandleFields } from "./shape/HandleFields";
import { designer, recast, rehandled } from "./shape/lines";

export function LayoutPanel({ board: b, r, sheet, set, change, applyPatch }: PanelProps) {
  const { length, tables, shop } = useWorkshop();
  const d = b.design;
  const design = designer(change);
  return (
    <>
      <h2>Board</h2>
      {d.shape === "free" ? (
        <p className="facts">An outline drawn by points: change it under Shape.</p>
      ) : (
        <Choice
          label="Shape"
          value={d.shape}
          options={kindsOf(r.shape.recasts)}
          onChange={(shape) => design((now) => recast(now, r, shape))}
        />
      )}
      <Dimensions d={d} set={design} />
      <Row>
        <ServesFields give={b.give} set={set} />
      </Row>
      <Button
        size="sm"
        variant="outline-primary"
        disabled={Object.keys(r.size.patch).length === 0}
        onClick={() => applyPatch(r.size.patch)}
      >
        {Object.keys(r.size.patch).length === 0
          ? "No board is so large: serve them with several"
          : `Size it for them: ${length(r.size.length)} × ${length(r.size.width)}`}
      </Button>
      <Figures figures={[r.size.working]} />
      <h2>Handle</h2>
      <Choice
        label="Handle"
        hideLabel
        value={d.handle.kind}
        options={kindsOf(tables.handles)}
        onChange={(kind) => design((now) => rehandled(now, tables, 0, kind))}
      />
      <HandleFields
        h={d.handle}
        part={(part, kind = "") => design((now) => ({ handle: { ...now.handle, ...part } }), kind && `handle-${kind}`)}
      />
      <h2>Place</h2>
      <Link className="btn btn-sm btn-outline-primary mb-2" to={`/timber/${sheet.piece}/layout`}>
        All boards of {sheet.pieceName}
      </Link>
      <Row>
        <PlaceFields at={b.placement} onChange={(placement, kind) => set({ placement }, kind)} />
      </Row>
      <Tick
        label="Its show face is the slab's under face"
        value={b.placement.flip}
        onChange={(flip) => set({ placement: { flip } })}
      />
      <h2>Cutting it out</h2>
      <Row>
        <Choice
          label="Outline with"
          value={b.cut.saw}
          options={sawsOf(tables, shop)}
          onChange={(saw) => set({ cut: { saw } })}
        />
        <Choice
          label="Snipe"
          value={b.cut.snipe}
          options={[
            { value: "allow", label: "cut long" },
            { value: "pieces", label: "sacrificial pieces" },
            { value: "nose to tail", label: "nose to tail" },
          ]}
          onChange={(snipe) => set({ cut: { snipe } })}
        />
      </Row>
      <Tick
        label="Trimmed to a template with a flush bit after it is sawn"
        value={b.cut.trim ?? false}
        onChange={(trim) => set({ cut: { trim } })}
      />
    </>
  );
}
