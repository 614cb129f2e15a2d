// The marks that are taken hold of on the drawing.
import { memo, useEffect, useState, type RefObject } from "react";
import type { Grip, Node, Point } from "../../api/client";
import { placed } from "./grips";
import { mirrored } from "./lines";

/** Lead brings a grip to a place before the design follows; null lets it go. */
export type Lead = (led: { grip: Grip; to: Point } | null) => void;

interface Props {
  grips: Grip[];
  /** Points of half a template, whose other half is shown. */
  half: Node[];
  toScreen: (p: Point) => Point;
  picked: string;
  lead: RefObject<Lead>;
}

/** Grips are the marks, the one that is led where the pointer has brought it. */
export function Grips({ grips, half, toScreen, picked, lead }: Props) {
  const [led, setLed] = useState<Parameters<Lead>[0]>(null);
  useEffect(() => {
    lead.current = setLed;
  }, [lead]);
  const where = (g: Grip): Point => toScreen(led && led.grip.key === g.key ? placed(led.grip, led.to) : g.at);
  const named = grips.find((g) => g.key === picked);
  const label = named && where(named);
  return (
    <>
      {grips.map((g) => (
        <GripMark key={g.key} id={g.key} label={g.label} {...where(g)} picked={g.key === picked} />
      ))}
      {label && (
        <text className="grip-label" x={label.x} y={label.y - 12}>
          {named.label}
        </text>
      )}
      {half.map((n, i) => {
        const q = toScreen(mirrored(n));
        return <circle key={i} className="node-mirror" cx={q.x} cy={q.y} r={3} />;
      })}
    </>
  );
}

interface MarkProps extends Point {
  id: string;
  label: string;
  picked: boolean;
}

/** GripMark is drawn again only when it has moved. */
const GripMark = memo(function GripMark({ id, label, x, y, picked }: MarkProps) {
  return (
    <g>
      <circle className={`node ${picked ? "is-picked" : ""}`} cx={x} cy={y} r={picked ? 6 : 4.5} />
      <circle className="node-reach" cx={x} cy={y} r={13} data-grip={id}>
        <title>{label}</title>
      </circle>
    </g>
  );
});
