// The blank in section, along and across: rough, what goes at each pass, planed and sanded. Heights are stretched.
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from "react";
import Button from "react-bootstrap/Button";
import type { Reckoned } from "../api/client";
import { stageOf, useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

type Profile = Reckoned["milling"]["seen"][number];

interface Props {
  r: Reckoned;
  light: string;
  dark: string;
  onStage: (stage: string) => void;
  onSlab: () => void;
}

/** The most by which heights are drawn higher than lengths. */
const mostStretched = 6;
const pad = 24;

export function FlattenDrawing({ r, light, dark, onStage, onSlab }: Props) {
  const { switchUnits } = useWorkshop();
  const { stages } = useStages();
  const box = useRef<HTMLDivElement>(null);
  const [{ wide, high }, setSize] = useState({ wide: 640, high: 340 });
  useLayoutEffect(() => {
    const el = box.current;
    if (!el) return;
    const watch = new ResizeObserver(() =>
      setSize({ wide: Math.max(260, el.clientWidth - 26), high: Math.max(260, el.clientHeight - 20) }),
    );
    watch.observe(el);
    return () => watch.disconnect();
  }, []);
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const digit = /^\d$/.test(e.key) && stageOf(stages, e.key);
    if (digit) onStage(digit);
    else if (e.key === "u") switchUnits();
    else return;
    e.preventDefault();
  };
  const longest = Math.max(1, ...r.milling.seen.map((p) => p.under.at(-1)?.x ?? 0));
  const scale = (wide - 130) / longest;
  const top = Math.max(1, ...r.milling.seen.map(highest));
  const upward = Math.min(mostStretched * scale, (high / 2 - 2 * pad - 26) / top);
  return (
    <div className="drawing-frame flatten-drawing">
      <div className="drawing-tools">
        <Button size="sm" variant="outline-primary" onClick={onSlab}>
          On its slab
        </Button>
        <span className="facts">Heights are drawn {(upward / scale).toFixed(1)} times as high as lengths.</span>
      </div>
      <div
        ref={box}
        className="flatten-views"
        tabIndex={0}
        role="group"
        aria-label="The blank from its side and from its end. Digits choose a stage."
        onKeyDown={onKeyDown}
      >
        {r.milling.seen.map((p) => (
          <ProfileView
            key={String(p.along)}
            p={p}
            scale={scale}
            upward={upward}
            light={light}
            dark={dark}
            wide={wide}
          />
        ))}
      </div>
    </div>
  );
}

/** highest is how high the rough piece or what is planed of it reaches, mm. */
const highest = (p: Profile) => Math.max(...p.over.map((o) => o.y), p.planed[1]);

interface ViewProps {
  p: Profile;
  /** Pixels a millimetre of length, and of height. */
  scale: number;
  upward: number;
  light: string;
  dark: string;
  wide: number;
}

function ProfileView({ p, scale, upward: high, light, dark, wide }: ViewProps) {
  const { length } = useWorkshop();
  const end = p.under.at(-1)?.x ?? 0;
  const top = highest(p);
  const height = top * high + 2 * pad;
  const x = (u: number) => 12 + u * scale;
  const y = (z: number) => height - pad - z * high;
  const line = (points: { x: number; y: number }[]) => points.map((o) => `${x(o.x)} ${y(o.y)}`).join("L");
  const rough = `M${line(p.under)}L${line([...p.over].reverse())}Z`;
  const passes = p.cuts.filter((c) => c.at < top);
  const [low, up] = p.final;
  const name = p.along ? "From its side" : "From its end";
  return (
    <figure>
      <figcaption>
        {name}: {length(end)} {p.along ? "long" : "wide"}, {passes.length} {passes.length === 1 ? "pass" : "passes"}
      </figcaption>
      <svg width={wide} height={height} role="img" aria-label={`${name}, rough, planed and sanded`}>
        <path d={rough} fill={dark} stroke={dark} className="profile-rough" />
        {passes.map((c, i) => (
          <path key={i} className={c.one ? "profile-cut one" : "profile-cut"} d={`M${x(0)} ${y(c.at)}H${x(end)}`} />
        ))}
        <rect
          className="profile-final"
          x={x(0)}
          y={y(up)}
          width={end * scale}
          height={(up - low) * high}
          fill={light}
        />
        <g className="profile-size">
          <path d={`M${x(end) + 10} ${y(low)}V${y(up)}M${x(end) + 6} ${y(low)}h8M${x(end) + 6} ${y(up)}h8`} />
          <text x={x(end) + 20} y={(y(low) + y(up)) / 2 + 4}>
            {length(up - low)} sanded
          </text>
          <text x={x(0)} y={y(top) - 8}>
            rough {length(Math.max(...p.over.map((o, i) => o.y - p.under[i].y)))} at the thickest
          </text>
        </g>
      </svg>
    </figure>
  );
}
