// One void: what fills it, in what order, and how it looks cut across.
import { useId } from "react";
import Button from "react-bootstrap/Button";
import type { Reckoned } from "../../api/client";
import { Choice, LengthField, RemoveButton, Row, wordsOf } from "../../kit/fields";
import { put } from "../../kit/items";
import { showMinutes } from "../../kit/length";
import { Working } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import type { PanelProps } from "../panel";

type Void = Reckoned["voids"][number];

interface Props extends PanelProps {
  v: Void;
}

export function VoidCard(props: Props) {
  const { v, board: b, set } = props;
  const { value, words } = useWorkshop();
  const chosen = v.options.find((o) => o.name === v.chosen);
  return (
    <div className="void" data-void={v.flaw}>
      <Working
        figure={v.working}
        line={
          <>
            <span className="void-number">{v.number}</span>
            <strong className="figure-label">{v.name}</strong>
            {value(v.volume, "ml")}
          </>
        }
      />
      <div className="void-cut">
        <div className="facts flex-grow-1">
          {value(v.width, "mm")} wide, {v.through ? "through" : `${value(v.depth, "mm")} deep after flattening`}
          {v.under && ", underside only"}
          {v.outs.length > 0 && `, runs out at ${v.outs.length === 1 ? "one place" : `${v.outs.length} places`}`}
        </div>
        <CutAcross v={v} thickness={props.r.budget.planed} />
      </div>
      <Choice
        label={`Fill the ${v.name} with`}
        hideLabel
        value={v.chosen}
        options={v.options.map((o) => {
          const wait = o.wait > 0 ? showMinutes(o.wait) : "no wait";
          return { value: o.name, label: `${o.name} · ${wait} · ${o.fits ? "" : "only "}${words(o.reason)}` };
        })}
        onChange={(name) => set({ fill: { fillers: { ...b.fill.fillers, [v.flaw]: name } } })}
      />
      {chosen && (
        <div className="facts">
          {chosen.fits ? "" : "Does not fit: "}
          {words(chosen.reason)}. Food face: {chosen.food}.
        </div>
      )}
      {v.coats.length > 0 && <Beneath {...props} />}
      {v.recipe.length > 0 && (
        <details className="recipe">
          <summary>How it is filled</summary>
          <ol>
            {v.recipe.map((line) => (
              <li key={line}>{words(line)}</li>
            ))}
          </ol>
          {v.dam && <p className="facts">Dam: {v.dam}.</p>}
        </details>
      )}
    </div>
  );
}

/** Beneath is what goes in first, from the bottom up, below the filler. */
function Beneath({ v, board: b, change }: Props) {
  const { tables } = useWorkshop();
  const below = b.fill.below?.[v.flaw] ?? [];
  const keep = (next: typeof below, kind?: string) =>
    change((now) => ({ ...now, fill: { ...now.fill, below: { ...now.fill.below, [v.flaw]: next } } }), kind);
  return (
    <div className="beneath">
      {below.map((o, i) => (
        <Row key={i}>
          <Choice
            label={i === 0 ? "At the bottom" : "Then"}
            value={o.filler}
            options={wordsOf(tables.beneath)}
            onChange={(filler) => keep(put(below, i, { filler }))}
          />
          <LengthField
            label="So deep"
            of="board.fill.below.depth"
            mm={o.depth}
            onChange={(depth) => keep(put(below, i, { depth }), `below-${v.flaw}`)}
          />
          <RemoveButton what={`${o.filler} below`} onClick={() => keep(below.filter((_, k) => k !== i))} />
        </Row>
      ))}
      <Button
        size="sm"
        variant="link"
        className="text-link"
        onClick={() => keep([...below, { filler: tables.beneath[0], depth: 3 }])}
      >
        {below.length === 0 ? `Something below the ${v.chosen}` : "One more upon it"}
      </Button>
    </div>
  );
}

const fillings: Record<string, string> = { putty: "#b08d57", "glue and sanding dust": "#a0764a" };

/** CutAcross is the void cut across, true to size, with what goes in from the bottom up. */
function CutAcross({ v, thickness }: { v: Void; thickness: number }) {
  const { value } = useWorkshop();
  const id = useId().replace(/[^a-z0-9]/gi, "");
  const told = v.coats.map((c) => `${c.filler} ${value(c.depth, "mm")} deep`).join(", then ");
  const half = Math.max(...v.profile.map((p) => Math.abs(p.x)), 1);
  // As much of the thickness as the void needs to be seen, from the face on which it opens.
  const tall = v.through ? thickness : Math.min(thickness, Math.max(v.depth * 1.5, 5));
  const from = v.under ? thickness - tall : 0;
  const wide = Math.max(half * 2.6, tall * 1.8);
  const ring = v.profile.map((p) => `${p.x} ${v.under ? thickness - p.y : p.y}`).join("L");
  let at = v.depth;
  const coats = v.coats.map((c) => {
    const top = at - c.depth;
    const box = { top, deep: c.depth, filler: c.filler };
    at = top;
    return box;
  });
  return (
    <svg
      className="cut-across"
      viewBox={`${-wide / 2} ${from - tall * 0.05} ${wide} ${tall * 1.1}`}
      role="img"
      aria-label={`Cut across: ${told || "left"}`}
    >
      <rect className="cut-wood" x={-wide / 2} y={from} width={wide} height={tall} />
      <clipPath id={id}>
        <path d={`M${ring}Z`} />
      </clipPath>
      <path className="cut-void" d={`M${ring}Z`} />
      <g clipPath={`url(#${id})`}>
        {coats.map((c, i) => {
          const epoxy = c.filler === "epoxy" && v.tone;
          return (
            <rect
              key={i}
              className="cut-coat"
              strokeWidth={tall / 60}
              x={-wide / 2}
              y={v.under ? thickness - c.top - c.deep : c.top}
              width={wide}
              height={c.deep}
              fill={epoxy ? v.tone!.hue : (fillings[c.filler] ?? "#f0dfae")}
              fillOpacity={epoxy ? Math.max(0.45, v.tone!.opacity) : 1}
            />
          );
        })}
      </g>
      {v.through && v.dam && <path className="cut-tape" d={`M${-half * 1.2} ${thickness}H${half * 1.2}`} />}
    </svg>
  );
}
